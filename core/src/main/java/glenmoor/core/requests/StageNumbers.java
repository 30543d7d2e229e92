package glenmoor.core.requests;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * How lines fare at a stage, of those that ask for the same.
 *
 * @param stage from 0
 * @param said the stage as the lines kept it, as JSON
 * @param selected what answers select, as a JSON array
 * @param open how many wait there
 * @param oldest since when the oldest of them waits; null for none
 * @param settled how many were settled by somebody within the time looked at
 * @param medianSeconds from its opening to that, over all that was settled at that stage; null for
 *     none
 * @param declined and {@code lapsed}: how many ended there
 */
public record StageNumbers(
    String route,
    Integer stage,
    String said,
    String rolePackage,
    String selected,
    Integer open,
    @Nullable Instant oldest,
    Integer settled,
    @Nullable Long medianSeconds,
    Integer declined,
    Integer lapsed) {}
