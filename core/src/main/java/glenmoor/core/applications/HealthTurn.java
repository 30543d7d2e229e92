package glenmoor.core.applications;

import java.time.Instant;

/**
 * A moment at which an application became well or unwell; it stayed so until the next one.
 *
 * @param state {@code well} or {@code unwell}
 * @param sentence what was found then
 */
public record HealthTurn(Instant at, String state, String sentence) {}
