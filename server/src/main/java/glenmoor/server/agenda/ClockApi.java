package glenmoor.server.agenda;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.Refused;
import glenmoor.engine.agenda.Agenda;
import glenmoor.engine.time.Clock;
import glenmoor.server.ServiceSettings;
import glenmoor.server.authorization.ForEverybody;
import glenmoor.server.authorization.Needs;
import glenmoor.server.jobs.ProgressApi;
import glenmoor.server.jobs.ProgressApi.Work;
import java.time.Duration;
import java.time.Instant;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** The clock, and moving it where it can be moved. */
@RestController
@RequestMapping("/api/v1/clock")
class ClockApi {
  /** What time it is for the service. */
  record ClockShown(Instant now, String zone, boolean movable) {}

  /**
   * How far to move; one of the two.
   *
   * @param by an ISO 8601 duration such as {@code P7D} or {@code PT12H}
   * @param to a moment such as {@code 2027-03-14T06:00:00Z}
   */
  record Advance(@Nullable Duration by, @Nullable Instant to) {}

  private final Clock clock;
  private final Agenda agenda;
  private final ProgressApi progress;
  private final ServiceSettings settings;

  ClockApi(Clock clock, Agenda agenda, ProgressApi progress, ServiceSettings settings) {
    this.clock = clock;
    this.agenda = agenda;
    this.progress = progress;
    this.settings = settings;
  }

  @ForEverybody
  @GetMapping
  ClockShown show(Actor actor) {
    return new ClockShown(clock.instant(), settings.zone().getId(), clock.movable());
  }

  /** Moves the clock forward; everything that falls due in between happens, in order. */
  @Needs(Permission.MOVE_CLOCK)
  @PostMapping("/advance")
  ResponseEntity<Work> advance(@RequestBody Advance body, Actor actor) {
    var by = body.by();
    var to = body.to();
    if (by == null == (to == null)) {
      throw Refused.badInput("Say how far the clock moves: by or to, one of the two.");
    }
    return progress.accepted(
        by == null
            ? agenda.advanceTo(Objects.requireNonNull(to), actor)
            : agenda.advance(by, actor),
        actor);
  }
}
