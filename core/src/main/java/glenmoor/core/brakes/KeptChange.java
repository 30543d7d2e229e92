package glenmoor.core.brakes;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * A change that waits, or waited, for somebody to release it.
 *
 * @param kind what brought it: {@code feed}, {@code definitions}, {@code reconcile} or {@code
 *     playbook}
 * @param state {@code held}, {@code released} or {@code dropped}
 * @param measured JSON: what it comes to, by measure
 * @param forecast JSON
 * @param details JSON: what its kind needs to go on with it
 */
public record KeptChange(
    Long id,
    String kind,
    String what,
    String state,
    String sentence,
    String measured,
    String forecast,
    String details,
    String broughtBy,
    Instant broughtAt,
    String decidedBy,
    @Nullable Instant decidedAt,
    String note) {}
