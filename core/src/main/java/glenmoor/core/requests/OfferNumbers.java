package glenmoor.core.requests;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * How the asks under one offer fare.
 *
 * @param open how many wait for somebody
 * @param oldest since when the oldest of them waits; null for none
 * @param approved and {@code declined}, {@code lapsed}: how many ended so within the time looked at
 * @param medianSeconds from asking to the last yes, of those approved within it; null for none
 */
public record OfferNumbers(
    String offer,
    Integer open,
    @Nullable Instant oldest,
    Integer approved,
    Integer declined,
    Integer lapsed,
    @Nullable Long medianSeconds) {}
