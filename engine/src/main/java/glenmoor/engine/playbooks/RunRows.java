package glenmoor.engine.playbooks;

import glenmoor.core.playbooks.RunState;
import glenmoor.store.playbooks.PlaybookRunMapper.RunRow;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Runs as they are kept, and as core knows them. */
final class RunRows {
  private RunRows() {}

  static RunState state(RunRow row) {
    return switch (row.state()) {
      case "open" -> open(row);
      case "held" -> new RunState.Held(open(row), row.reason());
      case "stopped" -> new RunState.Stopped(row.step(), row.reachedAt(), row.reason());
      case "done" -> new RunState.Done(Objects.requireNonNull(row.endedAt()));
      default ->
          new RunState.Ended(row.step(), Objects.requireNonNull(row.endedAt()), row.reason());
    };
  }

  private static RunState.Open open(RunRow row) {
    return new RunState.Open(
        row.step(), row.reachedAt(), Objects.requireNonNull(row.dueAt()), row.tries());
  }

  /**
   * The row of a run in another state.
   *
   * @param awaits the application and the state it waits to see an account in; null for none
   */
  static RunRow with(RunRow row, RunState state, LocalDate day, @Nullable Awaited awaits) {
    return switch (state) {
      case RunState.Open open -> row(row, "open", open, "", null, day, awaits);
      case RunState.Held held -> row(row, "held", held.before(), held.reason(), null, day, null);
      case RunState.Stopped stopped ->
          row(
              row,
              "stopped",
              new RunState.Open(stopped.step(), stopped.reached(), stopped.reached(), row.tries()),
              stopped.reason(),
              null,
              day,
              null);
      case RunState.Done done -> over(row, "done", row.step() + 1, "", done.at(), day);
      case RunState.Ended ended ->
          over(row, "ended", ended.step(), ended.reason(), ended.at(), day);
    };
  }

  /** How an account is to be seen before a run goes on. */
  record Awaited(String application, String state) {}

  private static RunRow row(
      RunRow row,
      String state,
      RunState.Open at,
      String reason,
      @Nullable Instant endedAt,
      LocalDate day,
      @Nullable Awaited awaits) {
    return new RunRow(
        row.id(),
        row.playbook(),
        row.name(),
        row.beganOn(),
        row.personId(),
        row.eventId(),
        day,
        state,
        at.step(),
        at.reached(),
        at.due(),
        at.tries(),
        reason,
        awaits == null ? null : awaits.application(),
        awaits == null ? null : awaits.state(),
        row.beganAt(),
        row.beganBy(),
        endedAt,
        row.revision(),
        row.onceKey());
  }

  private static RunRow over(
      RunRow row, String state, int step, String reason, Instant at, LocalDate day) {
    return new RunRow(
        row.id(),
        row.playbook(),
        row.name(),
        row.beganOn(),
        row.personId(),
        row.eventId(),
        day,
        state,
        step,
        row.reachedAt(),
        null,
        0,
        reason,
        null,
        null,
        row.beganAt(),
        row.beganBy(),
        at,
        row.revision(),
        row.onceKey());
  }
}
