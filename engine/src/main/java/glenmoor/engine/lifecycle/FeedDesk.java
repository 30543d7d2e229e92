package glenmoor.engine.lifecycle;

import glenmoor.connect.lifecycle.CsvFile;
import glenmoor.core.access.Catalogue;
import glenmoor.core.forecast.Forecast;
import glenmoor.core.ledger.CanonicalJson;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.lifecycle.Reject;
import glenmoor.core.lifecycle.RowCheck;
import glenmoor.core.lifecycle.Source;
import glenmoor.core.people.Person;
import glenmoor.core.provisioning.PersonPicture;
import glenmoor.core.provisioning.PersonPlan;
import glenmoor.engine.Refused;
import glenmoor.engine.agenda.Agenda;
import glenmoor.engine.agenda.Clock;
import glenmoor.engine.agenda.Transactions;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.people.Actor;
import glenmoor.engine.people.Allow;
import glenmoor.engine.progress.Progress;
import glenmoor.engine.provisioning.Pictures;
import glenmoor.engine.provisioning.Planning;
import glenmoor.store.Parts;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.agenda.Ids;
import glenmoor.store.lifecycle.FeedMapper;
import glenmoor.store.lifecycle.FeedMapper.FeedRow;
import glenmoor.store.lifecycle.FeedMapper.RejectRow;
import glenmoor.store.people.KnownPeople;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.stream.Collectors;
import javax.sql.DataSource;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Loads feeds, or forecasts what loading one would do. */
public final class FeedDesk {
  private static final Logger LOG = LoggerFactory.getLogger(FeedDesk.class);
  private static final int REJECTS_SHOWN = 200;
  private static final int STATEMENT = 500;

  /** What a feed came to. */
  public record Loaded(
      long feed, int rows, int rejected, Map<String, Integer> events, String sentence) {}

  /** What a feed would come to. */
  public record Forecasted(
      int rows,
      int rejected,
      List<Reject> rejects,
      Map<String, Integer> events,
      Forecast.Sum sum) {}

  private final FeedMapper feeds;
  private final PersonMapper people;
  private final GrantMapper grants;
  private final Catalogues catalogues;
  private final Pictures pictures;
  private final Planning planning;
  private final Agenda agenda;
  private final Progress progress;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Ids ids;
  private final Clock clock;
  private final DataSource dataSource;

  /** What the desk works with; too many for a constructor that could be read. */
  public record Tools(
      FeedMapper feeds,
      PersonMapper people,
      GrantMapper grants,
      Catalogues catalogues,
      Pictures pictures,
      Planning planning,
      Agenda agenda,
      Progress progress,
      Transactions transactions,
      Ledger ledger,
      Ids ids,
      Clock clock,
      DataSource dataSource) {}

  public FeedDesk(Tools tools) {
    feeds = tools.feeds();
    people = tools.people();
    grants = tools.grants();
    catalogues = tools.catalogues();
    pictures = tools.pictures();
    planning = tools.planning();
    agenda = tools.agenda();
    progress = tools.progress();
    transactions = tools.transactions();
    ledger = tools.ledger();
    ids = tools.ids();
    clock = tools.clock();
    dataSource = tools.dataSource();
  }

  /**
   * Begins to load a file, which is deleted in the end.
   *
   * @return the identity of the work; its result is {@link Loaded}
   */
  public long load(String sourceKey, String fileName, Path file, Actor actor) {
    Allow.loadingFeeds(actor);
    var source = source(sourceKey);
    return progress.start(
        "loading " + fileName,
        teller -> andDelete(file, path -> load(source, fileName, path, actor, teller)));
  }

  /**
   * Begins to forecast a file, which is deleted in the end. Nothing is kept.
   *
   * @return the identity of the work; its result is {@link Forecasted}
   */
  public long forecast(String sourceKey, String fileName, Path file, Actor actor) {
    Allow.loadingFeeds(actor);
    var source = source(sourceKey);
    return progress.start(
        "forecasting " + fileName,
        teller -> andDelete(file, path -> forecast(source, path, teller)));
  }

  private Source source(String key) {
    var sources = catalogues.current().sources();
    if (key.isEmpty() && sources.size() == 1) {
      return sources.values().iterator().next();
    }
    var source = sources.get(key);
    if (source == null) {
      throw Refused.badInput(
          sources.isEmpty()
              ? "No source is defined yet; load a definition of one first."
              : "There is no source “%s”; say one of %s."
                  .formatted(key, String.join(", ", sources.keySet())));
    }
    return source;
  }

  private static Object andDelete(Path file, Function<Path, Object> work) {
    try {
      return work.apply(file);
    } finally {
      try {
        Files.deleteIfExists(file);
      } catch (IOException failed) {
        throw new UncheckedIOException(failed);
      }
    }
  }

  private KnownWorkers known(Source source) {
    var known = new KnownWorkers();
    KnownPeople.each(
        dataSource,
        source.key(),
        (worker, id, digest, absent) -> known.add(worker, id, digest, absent));
    return known;
  }

  private Loaded load(
      Source source, String fileName, Path file, Actor actor, Progress.Teller teller) {
    var catalogue = catalogues.current();
    var now = clock.instant();
    var id = ids.next();
    feeds.insert(
        new FeedRow(
            id,
            source.key(),
            fileName,
            "reading",
            "being read",
            0,
            0,
            "{}",
            now,
            null,
            actor.login()));
    var today = now.atZone(catalogue.zone()).toLocalDate();
    var plans = !catalogue.birthrights().isEmpty() || grants.any() > 0;
    try (var keeping = new FeedKeeping(id, source.key(), actor.login(), ids, now, today, plans)) {
      var reading =
          new FeedReading(source, catalogue, people, known(source), today, ids::next, teller);
      LOG.debug("feed {}: what is known is read", id);
      var sum = reading.read(new CsvFile(file, source.separator()), keeping);
      LOG.debug("feed {}: the file is read", id);
      teller.at(sum.rows(), sum.rows(), "keeping what changed");
      var sentence = sentence(sum);
      transactions.run(() -> {
        keeping.send(dataSource, people);
        rejects(id, sum.rejects());
        end(id, "loaded", sentence, sum);
        ledger.append(
            new LedgerEntry(
                now,
                actor.login(),
                "",
                "feed:" + id,
                "feed-loaded",
                Map.of(),
                Map.of("file", fileName, "rows", sum.rows(), "events", sum.counts())));
      });
      LOG.debug("feed {}: kept", id);
      if (plans) {
        teller.at(sum.rows(), sum.rows(), "planning what follows");
        planNow(id);
      }
      return new Loaded(id, sum.rows(), lines(sum.rejects()), sum.counts(), sentence);
    } catch (CsvFile.Broken | RowCheck.BadHeading broken) {
      throw refuse(id, fileName, actor, String.valueOf(broken.getMessage()));
    } catch (RuntimeException failed) {
      refuse(id, fileName, actor, "Loading failed, and nothing was changed: " + failed);
      throw failed;
    }
  }

  /** The feed is kept by now: if planning cannot go on at once, the next sweep does it. */
  private void planNow(long id) {
    try {
      agenda.sweep();
    } catch (RuntimeException later) {
      LOG.warn("Planning what follows from feed {} waits for the next sweep", id, later);
    }
  }

  private Refused refuse(long id, String fileName, Actor actor, String sentence) {
    var now = clock.instant();
    var shown = sentence.length() > 1_000 ? sentence.substring(0, 1_000) : sentence;
    feeds.end(new FeedRow(id, "", "", "refused", shown, 0, 0, "{}", now, now, actor.login()));
    ledger.append(
        new LedgerEntry(
            now,
            actor.login(),
            "",
            "feed:" + id,
            "feed-refused",
            Map.of(),
            Map.of("file", fileName, "reason", shown)));
    return Refused.badInput(shown);
  }

  private void end(long id, String state, String sentence, FeedReading.Sum sum) {
    feeds.end(
        new FeedRow(
            id,
            "",
            "",
            state,
            sentence,
            sum.rows(),
            lines(sum.rejects()),
            CanonicalJson.write(sum.counts()),
            clock.instant(),
            clock.instant(),
            ""));
  }

  private static int lines(List<Reject> rejects) {
    return (int) rejects.stream().mapToLong(Reject::line).distinct().count();
  }

  private static String sentence(FeedReading.Sum sum) {
    var events = sum.counts().values().stream().mapToInt(Integer::intValue).sum();
    var aside = lines(sum.rejects());
    return "%d rows read, %d events, %s"
        .formatted(sum.rows(), events, aside == 0 ? "none set aside" : aside + " rows set aside");
  }

  private void rejects(long feed, List<Reject> rejects) {
    var rows = new ArrayList<RejectRow>();
    for (var reject : rejects) {
      rows.add(
          new RejectRow(
              rows.size() + 1,
              reject.line(),
              cut(reject.worker(), 200),
              cut(reject.column(), 200),
              cut(reject.found(), 400),
              cut(reject.expected(), 1_000)));
    }
    Parts.each(rows, STATEMENT, part -> feeds.addRejects(feed, part));
  }

  private static String cut(String text, int longest) {
    return text.length() > longest ? text.substring(0, longest - 1) + "…" : text;
  }

  private Forecasted forecast(Source source, Path file, Progress.Teller teller) {
    var catalogue = catalogues.current();
    var today = clock.instant().atZone(catalogue.zone()).toLocalDate();
    var forecaster = new Forecaster(catalogue);
    // Negative, so that somebody who is not stored can never be taken for somebody who is.
    var passing = new AtomicLong();
    var reading =
        new FeedReading(
            source, catalogue, people, known(source), today, passing::decrementAndGet, teller);
    try {
      var sum = reading.read(new CsvFile(file, source.separator()), forecaster);
      return new Forecasted(
          sum.rows(),
          lines(sum.rejects()),
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

  public List<FeedRow> list(long before, int limit, Actor actor) {
    Allow.seeingFeeds(actor);
    return feeds.before(before, limit);
  }

  public FeedRow show(long id, Actor actor) {
    Allow.seeingFeeds(actor);
    var row = feeds.byId(id);
    if (row == null) {
      throw Refused.notThere(
          "There is no feed " + id + "; glenmoor feeds list shows those there are.");
    }
    return row;
  }

  public List<RejectRow> rejects(long feed, int after, int limit, Actor actor) {
    show(feed, actor);
    return feeds.rejects(feed, after, limit);
  }

  /** Goes over all rejects of a feed, for a file of them. */
  public void eachReject(long feed, Actor actor, Consumer<RejectRow> each) {
    var after = 0;
    while (true) {
      var page = rejects(feed, after, STATEMENT, actor);
      if (page.isEmpty()) {
        return;
      }
      page.forEach(each);
      after = page.getLast().number();
    }
  }

  /** The keys of the sources there are. */
  public List<Source> sources(Actor actor) {
    Allow.seeingFeeds(actor);
    return List.copyOf(catalogues.current().sources().values());
  }
}
