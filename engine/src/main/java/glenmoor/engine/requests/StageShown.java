package glenmoor.engine.requests;

import glenmoor.core.requests.Deciders;
import glenmoor.core.requests.RouteRun;
import glenmoor.core.requests.StageRun;
import glenmoor.core.requests.StageState;
import glenmoor.core.requests.StageState.Ahead;
import glenmoor.core.requests.StageState.Held;
import glenmoor.core.requests.StageState.Open;
import glenmoor.core.requests.StageState.Settled;
import glenmoor.core.requests.StageState.Times;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * A stage of a line.
 *
 * @param state ahead, open, held, or how it was settled
 * @param nudgesAt the next reminder; null for none
 * @param settledBy who settled it; empty for the clock
 */
public record StageShown(
    int number,
    List<String> ask,
    String agree,
    boolean beside,
    String state,
    List<AskedOne> who,
    @Nullable Instant opened,
    @Nullable Instant nudgesAt,
    @Nullable Instant standbyFrom,
    @Nullable Instant lapsesAt,
    @Nullable Instant heldUntil,
    @Nullable Instant settledAt,
    String settledBy,
    String reason,
    String reasonNeeded) {
  /** The stages of a route, with the names of those whom they mention. */
  static List<StageShown> of(RouteRun run, Map<Long, Who> names) {
    var shown = new ArrayList<StageShown>();
    for (var i = 0; i < run.stages().size(); i++) {
      shown.add(stage(i, run.stages().get(i), names));
    }
    return shown;
  }

  private static StageShown stage(int number, StageRun stage, Map<Long, Who> names) {
    var clock = stage.rule().clock();
    var times = times(stage.state());
    var held = stage.state() instanceof Held each ? each : null;
    var settled = stage.state() instanceof Settled each ? each : null;
    var by = settled == null ? null : settled.by();
    return new StageShown(
        number + 1,
        stage.rule().ask().stream().map(Deciders::written).toList(),
        stage.rule().agree().word(),
        stage.rule().beside(),
        word(stage.state()),
        stage.approvers().stream().map(each -> AskedOne.of(each, names)).toList(),
        stage.opened(),
        times.flatMap(each -> each.nextNudge(clock)).orElse(null),
        times.flatMap(each -> each.standby(clock)).orElse(null),
        times.map(each -> each.lapse(clock)).orElse(null),
        held == null ? null : held.until(),
        settled == null ? null : settled.at(),
        by == null ? "" : Who.name(names, by.value()),
        settled != null ? settled.reason() : held != null ? held.reason() : "",
        stage.rule().reason().word());
  }

  private static Optional<Times> times(StageState state) {
    return switch (state) {
      case Ahead ahead -> Optional.empty();
      case Open open -> Optional.of(open.times());
      case Held held -> Optional.of(held.times());
      case Settled settled -> Optional.empty();
    };
  }

  private static String word(StageState state) {
    return switch (state) {
      case Ahead ahead -> "ahead";
      case Open open -> "open";
      case Held held -> "held";
      case Settled settled -> settled.verdict().word();
    };
  }
}
