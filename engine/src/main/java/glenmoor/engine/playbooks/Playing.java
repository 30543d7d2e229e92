package glenmoor.engine.playbooks;

import glenmoor.engine.agenda.FallsDue;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.time.Clock;
import glenmoor.store.playbooks.PlaybookRunMapper;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** Looks for what begins runs, and carries out the steps that are due. */
@Named
public final class Playing implements RecurringJob.Owner, FallsDue {
  private final EventsPlayed events;
  private final DaysAhead days;
  private final StepsDue steps;
  private final PlaybookRunMapper runs;
  private final Catalogues catalogues;
  private final Clock clock;

  Playing(
      EventsPlayed events,
      DaysAhead days,
      StepsDue steps,
      PlaybookRunMapper runs,
      Catalogues catalogues,
      Clock clock) {
    this.events = events;
    this.days = days;
    this.steps = steps;
    this.runs = runs;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  @Override
  public List<RecurringJob> recurring() {
    return List.of(
        new RecurringJob(
            "playbooks",
            "begins runs of playbooks, and carries out their steps",
            Duration.ofSeconds(1),
            this::carryOut));
  }

  /** The next step, or the next midnight, at which days come by themselves. */
  @Override
  public @Nullable Instant next() {
    var midnight =
        days.wanted()
            ? Stream.of(
                clock
                    .instant()
                    .atZone(catalogues.current().zone())
                    .toLocalDate()
                    .plusDays(1)
                    .atStartOfDay(catalogues.current().zone())
                    .toInstant())
            : Stream.<Instant>empty();
    return Stream.concat(midnight, Stream.ofNullable(runs.nextDue()))
        .min(Instant::compareTo)
        .orElse(null);
  }

  @Override
  public int carryOut() {
    var begun = events.play() + days.look();
    runs.seen(clock.instant());
    return begun + steps.carryOut();
  }

  @Override
  public boolean busy() {
    return events.waiting() || runs.ready(clock.instant(), 1) > 0;
  }
}
