package glenmoor.engine.lifecycle;

import glenmoor.connect.lifecycle.CsvFile;
import glenmoor.core.access.Catalogue;
import glenmoor.core.forecast.Forecast;
import glenmoor.core.lifecycle.Reject;
import glenmoor.core.lifecycle.RowCheck;
import glenmoor.core.lifecycle.Source;
import glenmoor.core.people.Person;
import glenmoor.core.provisioning.PersonPicture;
import glenmoor.core.provisioning.PersonPlan;
import glenmoor.engine.Refused;
import glenmoor.engine.agenda.Clock;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.progress.Progress;
import glenmoor.engine.provisioning.Pictures;
import glenmoor.engine.provisioning.Planning;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Function;
import java.util.stream.Collectors;
import javax.sql.DataSource;

/** Says what loading a file would do: reads it and plans as loading does, and keeps nothing. */
public final class FeedForecasting {
  private static final int REJECTS_SHOWN = 200;

  /** What a feed would come to. */
  public record Forecasted(
      int rows,
      int rejected,
      List<Reject> rejects,
      Map<String, Integer> events,
      Forecast.Sum sum) {}

  private final PersonMapper people;
  private final Catalogues catalogues;
  private final Pictures pictures;
  private final Planning planning;
  private final Clock clock;
  private final DataSource dataSource;

  public FeedForecasting(
      PersonMapper people,
      Catalogues catalogues,
      Pictures pictures,
      Planning planning,
      Clock clock,
      DataSource dataSource) {
    this.people = people;
    this.catalogues = catalogues;
    this.pictures = pictures;
    this.planning = planning;
    this.clock = clock;
    this.dataSource = dataSource;
  }

  /**
   * Forecasts a file; nothing is kept.
   *
   * @throws Refused if it cannot be used as a whole
   */
  Forecasted forecast(Source source, Path file, Progress.Teller teller) {
    var catalogue = catalogues.current();
    var today = clock.instant().atZone(catalogue.zone()).toLocalDate();
    var forecaster = new Forecaster(catalogue);
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
            teller);
    try {
      var sum = reading.read(new CsvFile(file, source.separator()), forecaster);
      return new Forecasted(
          sum.rows(),
          FeedLoading.lines(sum.rejects()),
          sum.rejects().stream().limit(REJECTS_SHOWN).toList(),
          sum.counts(),
          forecaster.forecast.sum());
    } catch (CsvFile.Broken | RowCheck.BadHeading broken) {
      throw Refused.badInput(String.valueOf(broken.getMessage()));
    }
  }

  /** Plans for everybody a feed would change, and adds it up. */
  private final class Forecaster implements FeedReading.Changes {
    private final Catalogue catalogue;
    private Function<PersonPicture, PersonPlan> planner;
    private Forecast forecast = new Forecast();

    Forecaster(Catalogue catalogue) {
      this.catalogue = catalogue;
      this.planner = planning.forecaster(catalogue);
    }

    @Override
    public void startOver() {
      planner = planning.forecaster(catalogue);
      forecast = new Forecast();
    }

    @Override
    public void take(List<FeedReading.Change> batch) {
      var before = picturesBefore(batch, catalogue);
      for (var change : batch) {
        var detected = change.detected();
        if (detected != null) {
          var person = change.after();
          var fresh = new PersonPicture(person, List.of(), List.of());
          var picture = before.getOrDefault(person.id().value(), fresh).withPerson(person);
          forecast.count(planner.apply(picture), detected.kind().word());
        }
      }
    }
  }

  private Map<Long, PersonPicture> picturesBefore(
      List<FeedReading.Change> batch, Catalogue catalogue) {
    var stored =
        batch.stream()
            .map(FeedReading.Change::before)
            .filter(before -> before != null)
            .map(Person::id)
            .map(id -> id.value())
            .toList();
    List<PersonRow> rows = stored.isEmpty() ? List.of() : people.byIds(stored);
    return pictures.of(rows, catalogue).stream()
        .collect(Collectors.toMap(picture -> picture.person().id().value(), picture -> picture));
  }
}
