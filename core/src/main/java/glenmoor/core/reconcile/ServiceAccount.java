package glenmoor.core.reconcile;

import java.time.Instant;
import java.time.LocalDate;

/**
 * An account that is nobody's, for a purpose that somebody answers for.
 *
 * @param owner the worker number of who answers for it
 * @param until the last day on which that is so
 */
public record ServiceAccount(
    long id,
    String application,
    String nativeId,
    String name,
    String purpose,
    String owner,
    String ownerName,
    LocalDate until,
    String declaredBy,
    Instant declaredAt) {}
