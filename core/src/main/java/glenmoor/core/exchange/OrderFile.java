package glenmoor.core.exchange;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * A file that was written for an application.
 *
 * @param contents which accounts it names: {@code changes} or {@code all}
 * @param rows how many accounts it names
 * @param writtenBy who asked for it: a sign-in, or the schedule
 * @param answeredAt when the application's answer was seen; null while there is none
 * @param accounts how many accounts the answer names
 * @param problems how many of them with a problem
 */
public record OrderFile(
    Long id,
    String application,
    String name,
    String contents,
    Integer rows,
    String writtenBy,
    Instant writtenAt,
    @Nullable Instant answeredAt,
    Integer accounts,
    Integer problems) {}
