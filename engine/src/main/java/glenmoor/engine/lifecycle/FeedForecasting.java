package glenmoor.engine.lifecycle;

import glenmoor.connect.lifecycle.CsvFile;
import glenmoor.core.access.Catalogue;
import glenmoor.core.brakes.Brakes;
import glenmoor.core.brakes.Brakes.Measure;
import glenmoor.core.forecast.Forecast;
import glenmoor.core.lifecycle.EventKind;
import glenmoor.core.lifecycle.Reject;
import glenmoor.core.lifecycle.RowCheck;
import glenmoor.core.lifecycle.Source;
import glenmoor.core.people.Person;
import glenmoor.core.provisioning.PersonPlan;
import glenmoor.core.provisioning.PersonSnapshot;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.jobs.WorkProgress;
import glenmoor.engine.provisioning.PersonSnapshots;
import glenmoor.engine.provisioning.Planning;
import glenmoor.engine.time.Clock;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import jakarta.inject.Named;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import javax.sql.DataSource;

/** Says what loading a file would do: reads it and plans as loading does, and keeps nothing. */
@Named
public final class FeedForecasting {
  private static final int REJECTS_SHOWN = 200;

  /** What a feed would come to. */
  public record Forecasted(
      int rows,
      int rejected,
      List<Reject> rejects,
      Map<String, Integer> events,
      List<String> warnings,
      Forecast.Sum sum) {}

  private final PersonMapper people;
  private final Catalogues catalogues;
  private final PersonSnapshots snapshots;
  private final Planning planning;
  private final Clock clock;
  private final DataSource dataSource;

  public FeedForecasting(
      PersonMapper people,
      Catalogues catalogues,
      PersonSnapshots snapshots,
      Planning planning,
      Clock clock,
      DataSource dataSource) {
    this.people = people;
    this.catalogues = catalogues;
    this.snapshots = snapshots;
    this.planning = planning;
    this.clock = clock;
    this.dataSource = dataSource;
  }

  /**
   * Forecasts a file; nothing is kept.
   *
   * @throws Refused if it cannot be used as a whole
   */
  Forecasted forecast(Source source, Path file, WorkProgress reporter) {
    var catalogue = catalogues.current();
    var today = clock.instant().atZone(catalogue.zone()).toLocalDate();
    var forecaster = new Forecaster(catalogue, true);
    // Negative, so that somebody who is not stored can never be taken for somebody who is.
    var passing = new AtomicLong();
    var reading =
        new FeedReading(
            source,
            catalogue,
            people,
            KnownWorkers.of(dataSource, source.key()),
            today,
            passing::decrementAndGet,
            reporter);
    try {
      var sum = reading.read(new CsvFile(file, source.separator()), forecaster);
      return new Forecasted(
          sum.rows(),
          sum.aside(),
          sum.rejects().stream().limit(REJECTS_SHOWN).toList(),
          sum.counts(),
          warnings(catalogue, sum, forecaster.forecast.sum()),
          forecaster.forecast.sum());
    } catch (CsvFile.Broken | RowCheck.BadHeading broken) {
      throw Refused.badInput(String.valueOf(broken.getMessage()));
    }
  }

  /** What would make it wait, and what it would not do. */
  private static List<String> warnings(
      Catalogue catalogue, FeedReading.Sum sum, Forecast.Sum forecast) {
    var warnings = new ArrayList<>(catalogue.feedBrakes().hold(measured(sum, forecast), Map.of()));
    if (!sum.unproven().isEmpty()) {
      warnings.add("Nobody is counted as missing, because " + sum.unproven());
    }
    if (sum.waiting() > 0) {
      warnings.add(Counted.waiting(sum.waiting()));
    }
    if (!sum.hint().isEmpty()) {
      warnings.add(sum.hint());
    }
    return warnings;
  }

  /** What the brakes measure of a feed. */
  static Brakes.Measured measured(FeedReading.Sum sum, Forecast.Sum forecast) {
    var counts = new EnumMap<Measure, Integer>(Measure.class);
    counts.put(Measure.LEAVERS, leavers(sum) - sum.missing());
    counts.put(Measure.MISSING, sum.missing());
    counts.put(Measure.MOVERS, sum.counts().getOrDefault(EventKind.MOVER.word(), 0));
    counts.put(Measure.REJECTED, sum.aside());
    counts.put(Measure.LOSING, forecast.losing());
    return new Brakes.Measured(counts, sum.people());
  }

  private static int leavers(FeedReading.Sum sum) {
    return Stream.of(EventKind.LEAVER, EventKind.NO_SHOW)
        .mapToInt(kind -> sum.counts().getOrDefault(kind.word(), 0))
        .sum();
  }

  /** Adds up what would change for people who are there already, beside those who keep it. */
  Meter meter(Catalogue catalogue, FeedReading.Changes keeping) {
    return new Meter(new Forecaster(catalogue, false), keeping);
  }

  /** Gives changes on, and measures them on their way. */
  record Meter(Forecaster forecaster, FeedReading.Changes keeping) implements FeedReading.Changes {
    @Override
    public void take(List<FeedReading.Change> batch) {
      forecaster.take(batch);
      keeping.take(batch);
    }

    @Override
    public void missed(List<Long> people) {
      keeping.missed(people);
    }

    @Override
    public void startOver() {
      forecaster.startOver();
      keeping.startOver();
    }

    Forecast.Sum sum() {
      return forecaster.forecast.sum();
    }
  }

  /** Plans for everybody a feed would change, and adds it up. */
  final class Forecaster implements FeedReading.Changes {
    private final Catalogue catalogue;
    private final boolean joinersToo;
    private Function<List<PersonSnapshot>, List<PersonPlan>> planner;
    private Forecast forecast;

    Forecaster(Catalogue catalogue, boolean joinersToo) {
      this.catalogue = catalogue;
      this.joinersToo = joinersToo;
      this.planner = planning.forecaster(catalogue);
      this.forecast = new Forecast(catalogue);
    }

    @Override
    public void startOver() {
      planner = planning.forecaster(catalogue);
      forecast = new Forecast(catalogue);
    }

    @Override
    public void take(List<FeedReading.Change> batch) {
      var before = snapshotsBefore(batch, catalogue);
      var snapshots = new ArrayList<PersonSnapshot>();
      var events = new ArrayList<String>();
      for (var change : batch) {
        var detected = change.detected();
        if (detected != null && (joinersToo || change.before() != null)) {
          var person = change.after();
          var fresh = new PersonSnapshot(person, List.of(), List.of());
          snapshots.add(before.getOrDefault(person.id().value(), fresh).withPerson(person));
          events.add(detected.kind().word());
        }
      }
      var plans = planner.apply(snapshots);
      for (var i = 0; i < plans.size(); i++) {
        forecast.troubles(plans.get(i));
        forecast.count(plans.get(i), events.get(i));
      }
    }
  }

  private Map<Long, PersonSnapshot> snapshotsBefore(
      List<FeedReading.Change> batch, Catalogue catalogue) {
    var stored =
        batch.stream()
            .map(FeedReading.Change::before)
            .filter(before -> before != null)
            .map(Person::id)
            .map(id -> id.value())
            .toList();
    List<PersonRow> rows = stored.isEmpty() ? List.of() : people.byIds(stored);
    return snapshots.shown(rows, catalogue).stream()
        .collect(
            Collectors.toMap(snapshot -> snapshot.person().id().value(), snapshot -> snapshot));
  }
}
