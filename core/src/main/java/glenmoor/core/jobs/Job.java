package glenmoor.core.jobs;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * A piece of long work.
 *
 * @param kind what kind of work, such as {@code feed-load}: says what {@code result} is
 * @param state {@code waiting}, {@code running}, {@code done}, {@code refused}, {@code failed} or
 *     {@code cancelled}
 * @param result JSON: what it came to, {@code null} before
 * @param errors JSON: what was wrong in what it was given, each with its place
 * @param cancelWanted whether somebody wants it to stop
 */
public record Job(
    Long id,
    String kind,
    String what,
    String state,
    Integer done,
    Integer total,
    String sentence,
    String result,
    String errors,
    Instant startedAt,
    @Nullable Instant endedAt,
    String owner,
    Boolean cancelWanted) {
  /** Whether it waits or goes on. */
  public boolean open() {
    return state.equals("waiting") || state.equals("running");
  }
}
