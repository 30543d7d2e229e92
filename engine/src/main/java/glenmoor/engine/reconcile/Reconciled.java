package glenmoor.engine.reconcile;

import org.jspecify.annotations.Nullable;

/**
 * What a comparison came to.
 *
 * @param drifts how many differences are open
 * @param repaired how many were answered by a repair at once, as the definition says
 * @param adopted how many were answered by adopting
 * @param held the held change that waits for somebody, where a brake holds the repairs
 */
public record Reconciled(
    long id,
    String application,
    int accounts,
    int memberships,
    int passedOver,
    int drifts,
    int repaired,
    int adopted,
    @Nullable Long held) {}
