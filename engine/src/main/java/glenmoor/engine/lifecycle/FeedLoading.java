package glenmoor.engine.lifecycle;

import glenmoor.connect.lifecycle.CsvFile;
import glenmoor.core.access.Catalogue;
import glenmoor.core.brakes.Brakes;
import glenmoor.core.brakes.Brakes.Measure;
import glenmoor.core.ledger.CanonicalJson;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.lifecycle.Reject;
import glenmoor.core.lifecycle.RowCheck;
import glenmoor.core.lifecycle.Source;
import glenmoor.engine.Refused;
import glenmoor.engine.agenda.Clock;
import glenmoor.engine.agenda.Transactions;
import glenmoor.engine.brakes.HeldChanges;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.people.Actor;
import glenmoor.engine.progress.Progress;
import glenmoor.store.Parts;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.agenda.Ids;
import glenmoor.store.lifecycle.FeedMapper;
import glenmoor.store.lifecycle.FeedMapper.FeedEnd;
import glenmoor.store.lifecycle.FeedMapper.FeedRow;
import glenmoor.store.lifecycle.FeedMapper.RejectRow;
import glenmoor.store.people.PersonMapper;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import javax.sql.DataSource;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DataAccessException;
import org.springframework.dao.DuplicateKeyException;
import org.springframework.transaction.TransactionException;

/**
 * Loads a file: reads it against what is known, keeps what it means in one transaction, and has
 * what follows planned.
 */
public final class FeedLoading {
  private static final Logger LOG = LoggerFactory.getLogger(FeedLoading.class);
  private static final int STATEMENT = 500;
  private static final int LONGEST_SENTENCE = 1_000;
  private static final int LOOKS = 60;
  private static final Duration BETWEEN_LOOKS = Duration.ofSeconds(1);

  /**
   * What a feed came to.
   *
   * @param held the change that waits to be released, 0 if it was taken
   * @param whole whether all of it counted: nothing held, no doubt about absence, few rows set
   *     aside
   */
  public record Loaded(
      long feed,
      int rows,
      int rejected,
      Map<String, Integer> events,
      String sentence,
      long held,
      boolean whole) {}

  private final FeedMapper feeds;
  private final PersonMapper people;
  private final GrantMapper grants;
  private final Catalogues catalogues;
  private final FeedForecasting forecasting;
  private final HeldChanges held;
  private final Runnable sweep;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Ids ids;
  private final Clock clock;
  private final DataSource dataSource;

  /**
   * @param sweep carries out what is due now
   */
  public FeedLoading(
      FeedMapper feeds,
      PersonMapper people,
      GrantMapper grants,
      Catalogues catalogues,
      FeedForecasting forecasting,
      HeldChanges held,
      Runnable sweep,
      Transactions transactions,
      Ledger ledger,
      Ids ids,
      Clock clock,
      DataSource dataSource) {
    this.feeds = feeds;
    this.people = people;
    this.grants = grants;
    this.catalogues = catalogues;
    this.forecasting = forecasting;
    this.held = held;
    this.sweep = sweep;
    this.transactions = transactions;
    this.ledger = ledger;
    this.ids = ids;
    this.clock = clock;
    this.dataSource = dataSource;
  }

  /**
   * Loads a file, or holds it where a brake says so.
   *
   * @throws Refused if it cannot be used as a whole; nothing was changed then
   */
  Loaded load(Source source, String fileName, Path file, Actor actor, Progress.Teller teller) {
    return load(new Delivery(source, fileName, file, actor, Map.of(), ""), teller);
  }

  /**
   * A file that was brought.
   *
   * @param allowed what somebody has released already
   * @param cause what led to it, such as {@code held:12}, or empty
   */
  record Delivery(
      Source source,
      String fileName,
      Path file,
      Actor actor,
      Map<Measure, Integer> allowed,
      String cause) {}

  Loaded load(Delivery delivery, Progress.Teller teller) {
    var catalogue = catalogues.current();
    var now = clock.instant();
    var id = begin(delivery, now, teller.work());
    var today = now.atZone(catalogue.zone()).toLocalDate();
    var source = delivery.source().key();
    var login = delivery.actor().login();
    var plans = !catalogue.birthrights().isEmpty() || grants.any() > 0;
    Loaded loaded;
    try (var keeping = new FeedKeeping(id, source, login, ids, now, today, plans)) {
      var meter = forecasting.meter(catalogue, keeping);
      var sum = read(delivery, catalogue, today, meter, teller);
      LOG.debug("feed {}: the file is read", id);
      var measured = FeedForecasting.measured(sum, meter.sum());
      var reasons = catalogue.feedBrakes().hold(measured, delivery.allowed());
      if (!reasons.isEmpty()) {
        return hold(id, delivery, sum, measured, reasons, teller);
      }
      teller.at(sum.rows(), sum.rows(), "keeping what changed");
      transactions.run(() -> {
        keeping.send(dataSource, people);
        rejects(id, sum.rejects());
        end(id, "loaded", sentence(sum), sum, 0);
        ledger.append(
            new LedgerEntry(
                now,
                login,
                delivery.cause(),
                "feed:" + id,
                "feed-loaded",
                Map.of(),
                Map.of("file", delivery.fileName(), "rows", sum.rows(), "events", sum.counts())));
      });
      LOG.debug("feed {}: kept", id);
      loaded = loaded(id, sum, sentence(sum), 0);
    } catch (CsvFile.Broken | RowCheck.BadHeading broken) {
      throw refuse(id, delivery, String.valueOf(broken.getMessage()));
    } catch (RuntimeException failed) {
      loaded = afterFailure(id, delivery, failed);
    }
    if (plans) {
      teller.at(loaded.rows(), loaded.rows(), "planning what follows");
      planNow(id);
    }
    return loaded;
  }

  /**
   * One feed of a source is taken at a time: the other one waits for somebody to bring it again.
   */
  private long begin(Delivery delivery, Instant now, long work) {
    var id = ids.next();
    try {
      feeds.insert(
          new FeedRow(
              id,
              delivery.source().key(),
              delivery.fileName(),
              "reading",
              "being read",
              0,
              0,
              "{}",
              now,
              null,
              delivery.actor().login(),
              work,
              0L));
      return id;
    } catch (DuplicateKeyException another) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "Another feed of %s is being read at this moment; bring this one once that is done. Nothing was changed."
              .formatted(delivery.source().name()));
    }
  }

  private FeedReading.Sum read(
      Delivery delivery,
      Catalogue catalogue,
      LocalDate today,
      FeedReading.Changes changes,
      Progress.Teller teller) {
    var source = delivery.source();
    var known = KnownWorkers.of(dataSource, source.key());
    return new FeedReading(source, catalogue, people, known, today, ids::next, teller)
        .read(new CsvFile(delivery.file(), source.separator()), changes);
  }

  /** Keeps the file and what it would do, until somebody else releases or drops it. */
  private Loaded hold(
      long id,
      Delivery delivery,
      FeedReading.Sum sum,
      Brakes.Measured measured,
      List<String> reasons,
      Progress.Teller teller) {
    teller.at(sum.rows(), sum.rows(), "a brake holds it; forecasting what it would do");
    var forecast = forecasting.forecast(delivery.source(), delivery.file(), teller);
    var sentence =
        "A brake holds this feed, and nothing was changed: %s. Somebody else has to release or drop it."
            .formatted(String.join("; ", reasons));
    var change =
        transactions.run(() -> {
          rejects(id, sum.rejects());
          try (var content = Files.newInputStream(delivery.file())) {
            var held =
                this.held.hold(
                    new HeldChanges.Holding(
                        "feed",
                        delivery.fileName() + " of " + delivery.source().name(),
                        sentence,
                        measured,
                        forecast,
                        Map.of(
                            "source", delivery.source().key(),
                            "fileName", delivery.fileName(),
                            "feed", id)),
                    content,
                    delivery.actor());
            end(id, "held", sentence, sum, held);
            return held;
          } catch (IOException failed) {
            throw new UncheckedIOException(failed);
          }
        });
    return loaded(id, sum, sentence, change);
  }

  /** Has held feeds carried out here once they are released. */
  public void releasedBy(HeldChanges changes) {
    changes.carriedOutBy(
        "feed",
        new HeldChanges.Releasing() {
          @Override
          public void check(Map<String, Object> details) {
            notOutOfDate(details);
          }

          @Override
          public Object release(
              HeldChanges.Released released, Actor actor, Progress.Teller teller) {
            return FeedLoading.this.release(released, actor, teller);
          }
        });
  }

  /** Carries out a feed that was held and released, as the world is now. */
  private Object release(HeldChanges.Released released, Actor actor, Progress.Teller teller) {
    var source =
        catalogues.current().sources().get(String.valueOf(released.details().get("source")));
    if (source == null) {
      throw Refused.badInput("Its source is no longer defined, so nothing was changed.");
    }
    Path file = null;
    try {
      file = Files.createTempFile("glenmoor-released", ".csv");
      Files.copy(released.content(), file, StandardCopyOption.REPLACE_EXISTING);
      return load(
          new Delivery(
              source,
              String.valueOf(released.details().get("fileName")),
              file,
              actor,
              released.allowed(),
              "held:" + released.id()),
          teller);
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    } finally {
      delete(file);
    }
  }

  private static void delete(@Nullable Path file) {
    try {
      if (file != null) {
        Files.deleteIfExists(file);
      }
    } catch (IOException left) {
      LOG.warn("A file of people could not be deleted: {}", file);
    }
  }

  /**
   * A held feed is out of date once a newer one of its source was taken.
   *
   * @throws Refused if it is
   */
  private void notOutOfDate(Map<String, Object> details) {
    var newest = feeds.newestLoaded(String.valueOf(details.get("source")));
    if (newest != null && newest > Long.parseLong(String.valueOf(details.get("feed")))) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "A newer feed of this source was taken since (feed %d), so this one is out of date: drop it, and have the source deliver anew."
              .formatted(newest));
    }
  }

  private static Loaded loaded(long id, FeedReading.Sum sum, String sentence, long held) {
    var aside = lines(sum.rejects());
    return new Loaded(
        id, sum.rows(), aside, sum.counts(), sentence, held, held == 0 && sum.unproven().isEmpty());
  }

  /**
   * After a failure the truth is looked up: a connection may break after its commit was done.
   *
   * @throws Refused where nothing was changed, or where that cannot be told
   */
  private Loaded afterFailure(long id, Delivery delivery, RuntimeException failed) {
    var reference = "feed " + id;
    LOG.error("Loading {} failed", reference, failed);
    for (var tries = 0; ; tries++) {
      try {
        var row = feeds.byId(id);
        if (row != null && row.state().equals("loaded")) {
          return new Loaded(
              id, row.rowsRead(), row.rowsRejected(), Map.of(), row.sentence(), 0, true);
        }
        throw refuse(
            id,
            delivery,
            "Loading failed in a way it should not, and nothing was changed. The service's log says why, under %s."
                .formatted(reference));
      } catch (DataAccessException | TransactionException away) {
        if (tries == LOOKS) {
          throw new Refused(
              Refused.Reason.NOT_NOW,
              "The database went away while feed %d was kept. Whether it was taken is told by glenmoor feeds show %d once it is back."
                  .formatted(id, id));
        }
        pause();
      }
    }
  }

  private static void pause() {
    try {
      Thread.sleep(BETWEEN_LOOKS);
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
    }
  }

  /** The feed is kept by now: if planning cannot go on at once, the next sweep does it. */
  private void planNow(long id) {
    try {
      sweep.run();
    } catch (RuntimeException later) {
      LOG.warn("Planning what follows from feed {} waits for the next sweep", id, later);
    }
  }

  private Refused refuse(long id, Delivery delivery, String sentence) {
    var shown = cut(sentence, LONGEST_SENTENCE);
    transactions.run(() -> refused(id, delivery.fileName(), delivery.actor().login(), shown));
    return Refused.badInput(shown);
  }

  /** Closes feeds whose service ended while it read them. */
  public void closeDead() {
    for (var feed : feeds.dead(Progress.deadBefore())) {
      var sentence =
          "The service ended while it read this file, and nothing was changed. Load it again.";
      LOG.warn("Feed {} ({}) is closed: {}", feed.id(), feed.fileName(), sentence);
      transactions.run(() -> refused(feed.id(), feed.fileName(), feed.loadedBy(), sentence));
    }
  }

  private void refused(long id, String fileName, String login, String sentence) {
    var now = clock.instant();
    if (feeds.end(new FeedEnd(id, "refused", sentence, 0, 0, "{}", now, 0)) == 0) {
      return;
    }
    ledger.append(
        new LedgerEntry(
            now,
            login,
            "",
            "feed:" + id,
            "feed-refused",
            Map.of(),
            Map.of("file", fileName, "reason", sentence)));
  }

  private void end(long id, String state, String sentence, FeedReading.Sum sum, long change) {
    var counts = CanonicalJson.write(sum.counts());
    var aside = lines(sum.rejects());
    var ended =
        feeds.end(
            new FeedEnd(
                id,
                state,
                cut(sentence, LONGEST_SENTENCE),
                sum.rows(),
                aside,
                counts,
                clock.instant(),
                change));
    if (ended == 0) {
      throw new IllegalStateException("it took so long that it was taken for dead and closed");
    }
  }

  static int lines(List<Reject> rejects) {
    return (int) rejects.stream().mapToLong(Reject::line).distinct().count();
  }

  private static String sentence(FeedReading.Sum sum) {
    var events = sum.counts().values().stream().mapToInt(Integer::intValue).sum();
    var aside = lines(sum.rejects());
    var sentence =
        "%s, %s, %s"
            .formatted(
                Counted.rows(sum.rows(), "read", "read"),
                events == 1 ? "1 event" : "%,d events".formatted(events),
                aside == 0 ? "none set aside" : Counted.rows(aside, "set aside", "set aside"));
    return sentence
        + (sum.unproven().isEmpty()
            ? ""
            : ". Nobody was counted as missing, because " + sum.unproven())
        + (sum.hint().isEmpty() ? "" : ". " + sum.hint());
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
}
