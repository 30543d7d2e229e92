package glenmoor.server.agenda;

import glenmoor.engine.agenda.Agenda;
import glenmoor.engine.agenda.Clock;
import glenmoor.engine.people.Actor;
import glenmoor.server.ServiceSettings;
import glenmoor.server.progress.ProgressApi;
import glenmoor.server.progress.ProgressApi.Work;
import java.time.Duration;
import java.time.Instant;
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

  /** How far to move, as an ISO 8601 duration such as {@code P7D} or {@code PT12H}. */
  record Advance(Duration by) {}

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

  @GetMapping
  ClockShown show(Actor actor) {
    return new ClockShown(clock.instant(), settings.zone().getId(), clock.movable());
  }

  /** Moves the clock forward; everything that falls due in between happens, in order. */
  @PostMapping("/advance")
  ResponseEntity<Work> advance(@RequestBody Advance body, Actor actor) {
    return progress.accepted(agenda.advance(body.by(), actor));
  }
}
