package glenmoor.engine.lifecycle;

import glenmoor.connect.lifecycle.CsvFile;
import glenmoor.core.access.Catalogue;
import glenmoor.core.brakes.Brakes;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.lifecycle.RowCheck;
import glenmoor.core.lifecycle.Source;
import glenmoor.engine.Refused;
import glenmoor.engine.brakes.HeldChanges;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.identity.SignIns;
import glenmoor.engine.jobs.WorkProgress;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.names.NameChanges;
import glenmoor.engine.provisioning.DueWork;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Ids;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.people.PersonMapper;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import javax.sql.DataSource;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DataAccessException;
import org.springframework.transaction.TransactionException;

/**
 * Loads a file: reads it against what is known, keeps what it means in one transaction, and has
 * what follows planned.
 */
@Named
public final class FeedLoading {
  private static final Logger LOG = LoggerFactory.getLogger(FeedLoading.class);
  private static final int LOOKS = 60;
  private static final Duration BETWEEN_LOOKS = Duration.ofSeconds(1);

  /**
   * What a feed came to.
   *
   * @param held the change that waits to be released, null if it was taken
   * @param whole whether all of it counted: nothing held, no doubt about absence, few rows set
   *     aside
   */
  public record Loaded(
      long feed,
      int rows,
      int rejected,
      Map<String, Integer> events,
      String sentence,
      @Nullable Long held,
      boolean whole) {}

  private final FeedRecord record;
  private final FeedForecasting forecasting;
  private final HeldFeeds held;
  private final PersonMapper people;
  private final NameChanges names;
  private final GrantMapper grants;
  private final Catalogues catalogues;
  private final SignIns signIns;
  private final DueWork due;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Ids ids;
  private final Clock clock;
  private final DataSource dataSource;

  public FeedLoading(
      FeedRecord record,
      FeedForecasting forecasting,
      HeldChanges held,
      PersonMapper people,
      NameChanges names,
      GrantMapper grants,
      Catalogues catalogues,
      SignIns signIns,
      DueWork due,
      Transactions transactions,
      Ledger ledger,
      Ids ids,
      Clock clock,
      DataSource dataSource) {
    this.record = record;
    this.forecasting = forecasting;
    this.held = new HeldFeeds(held, record, catalogues, this::load);
    this.people = people;
    this.names = names;
    this.grants = grants;
    this.catalogues = catalogues;
    this.signIns = signIns;
    this.due = due;
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
  Loaded load(Delivery delivery, WorkProgress progress) {
    var id = record.begin(delivery, progress);
    var catalogue = catalogues.current();
    var now = clock.instant();
    var today = now.atZone(catalogue.zone()).toLocalDate();
    var source = delivery.source().key();
    var login = delivery.actor().login();
    var plans = !catalogue.birthrights().isEmpty() || grants.any() > 0;
    Loaded loaded;
    try (var keeping = new FeedWriting(id, source, login, ids, now, today, plans)) {
      var meter = forecasting.meter(catalogue, keeping);
      var sum = read(delivery, catalogue, today, meter, progress);
      LOG.debug("feed {}: the file is read", id);
      var measured = FeedForecasting.measured(sum, meter.sum());
      record.measured(id, measured);
      var reasons = catalogue.feedBrakes().hold(measured, delivery.allowed());
      if (!reasons.isEmpty()) {
        return hold(id, delivery, sum, measured, reasons, progress);
      }
      progress.at(sum.rows(), sum.rows(), "keeping what changed");
      transactions.run(() -> {
        // Who left by the calendar loses their sign-in before the file can bring them back.
        signIns.endLeavers();
        var proven = delivery.source().mode() == Source.Mode.FULL && sum.unproven().isEmpty();
        keeping.send(dataSource, people, names, proven);
        signIns.endLeavers();
        record.end(id, "loaded", sentence(sum), sum, 0);
        ledger.append(
            new LedgerEntry(
                now,
                login,
                delivery.cause(),
                "feed:" + id,
                "feed-loaded",
                Map.of(),
                Map.of(
                    "file", delivery.fileName(),
                    "rows", sum.rows(),
                    "rejected", sum.aside(),
                    "events", sum.counts(),
                    "sentence", sentence(sum))));
        progress.keep(loaded(id, sum, sentence(sum), null));
      });
      LOG.debug("feed {}: kept", id);
      loaded = loaded(id, sum, sentence(sum), null);
    } catch (WorkProgress.Cancelled cancelled) {
      throw cancelled;
    } catch (CsvFile.Broken | RowCheck.BadHeading broken) {
      throw record.refuse(id, delivery, String.valueOf(broken.getMessage()));
    } catch (RuntimeException failed) {
      loaded = afterFailure(id, delivery, failed);
    }
    if (plans) {
      progress.at(loaded.rows(), loaded.rows(), "planning what follows");
      planNow(id);
    }
    return loaded;
  }

  private FeedReading.Sum read(
      Delivery delivery,
      Catalogue catalogue,
      LocalDate today,
      FeedReading.Changes changes,
      WorkProgress progress) {
    var source = delivery.source();
    var known = KnownWorkers.of(dataSource, source.key());
    return new FeedReading(source, catalogue, people, known, today, ids::next, progress)
        .read(new CsvFile(delivery.file(), source.separator()), changes);
  }

  /** Keeps the file and what it would do, until somebody else releases or drops it. */
  private Loaded hold(
      long id,
      Delivery delivery,
      FeedReading.Sum sum,
      Brakes.Measured measured,
      List<String> reasons,
      WorkProgress progress) {
    progress.at(sum.rows(), sum.rows(), "a brake holds it; forecasting what it would do");
    var forecast = forecasting.forecast(delivery.source(), delivery.file(), progress);
    var sentence =
        "A brake holds this feed, and nothing was changed: %s. Somebody else has to release or drop it."
            .formatted(String.join("; ", reasons));
    var change =
        transactions.run(() -> {
          var holding = held.hold(id, delivery, sentence, measured, forecast);
          record.end(id, "held", sentence, sum, holding);
          progress.keep(loaded(id, sum, sentence, holding));
          return holding;
        });
    return loaded(id, sum, sentence, change);
  }

  private static Loaded loaded(long id, FeedReading.Sum sum, String sentence, @Nullable Long held) {
    var whole = held == null && sum.unproven().isEmpty();
    return new Loaded(id, sum.rows(), sum.aside(), sum.counts(), sentence, held, whole);
  }

  private static String sentence(FeedReading.Sum sum) {
    var events = sum.counts().values().stream().mapToInt(Integer::intValue).sum();
    var aside = sum.aside();
    var sentence =
        "%s, %s, %s"
            .formatted(
                Counted.rows(sum.rows(), "read", "read"),
                events == 1 ? "1 event" : "%,d events".formatted(events),
                aside == 0 ? "none rejected" : Counted.rows(aside, "rejected", "rejected"));
    return sentence
        + (sum.unproven().isEmpty()
            ? ""
            : ". Nobody was counted as missing, because " + sum.unproven())
        + (sum.waiting() == 0 ? "" : ". " + Counted.waiting(sum.waiting()))
        + (sum.hint().isEmpty() ? "" : ". " + sum.hint());
  }

  /**
   * After a failure the truth is looked up: a connection may break after its commit was done.
   *
   * @throws Refused where nothing was changed, or where that cannot be told
   */
  private Loaded afterFailure(long id, Delivery delivery, RuntimeException failed) {
    if (Thread.currentThread().isInterrupted()) {
      // The service stops: the next one takes this up anew, and looks how it ended.
      throw failed;
    }
    var reference = "feed " + id;
    LOG.error("Loading {} failed", reference, failed);
    for (var tries = 0; ; tries++) {
      try {
        var row = record.byId(id);
        if (row != null && row.state().equals("loaded")) {
          return new Loaded(
              id, row.rowsRead(), row.rowsRejected(), Map.of(), row.sentence(), null, true);
        }
        throw record.refuse(
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
      due.sweep();
    } catch (RuntimeException later) {
      LOG.warn("Planning what follows from feed {} waits for the next sweep", id, later);
    }
  }
}
