package glenmoor.engine.lifecycle;

import glenmoor.connect.lifecycle.CsvFile;
import glenmoor.core.ledger.CanonicalJson;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.lifecycle.Reject;
import glenmoor.core.lifecycle.RowCheck;
import glenmoor.core.lifecycle.Source;
import glenmoor.engine.Refused;
import glenmoor.engine.agenda.Clock;
import glenmoor.engine.agenda.Transactions;
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
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import javax.sql.DataSource;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Loads a file: reads it against what is known, keeps what it means in one transaction, and has
 * what follows planned.
 */
public final class FeedLoading {
  private static final Logger LOG = LoggerFactory.getLogger(FeedLoading.class);
  private static final int STATEMENT = 500;

  /** What a feed came to. */
  public record Loaded(
      long feed, int rows, int rejected, Map<String, Integer> events, String sentence) {}

  private final FeedMapper feeds;
  private final PersonMapper people;
  private final GrantMapper grants;
  private final Catalogues catalogues;
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
    this.sweep = sweep;
    this.transactions = transactions;
    this.ledger = ledger;
    this.ids = ids;
    this.clock = clock;
    this.dataSource = dataSource;
  }

  /**
   * Loads a file.
   *
   * @throws Refused if it cannot be used as a whole; nothing was changed then
   */
  Loaded load(Source source, String fileName, Path file, Actor actor, Progress.Teller teller) {
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
            actor.login(),
            teller.work()));
    var today = now.atZone(catalogue.zone()).toLocalDate();
    var plans = !catalogue.birthrights().isEmpty() || grants.any() > 0;
    try (var keeping = new FeedKeeping(id, source.key(), actor.login(), ids, now, today, plans)) {
      var reading =
          new FeedReading(
              source,
              catalogue,
              people,
              KnownWorkers.of(dataSource, source.key()),
              today,
              ids::next,
              teller);
      LOG.debug("feed {}: what is known is read", id);
      var sum = reading.read(new CsvFile(file, source.separator()), keeping);
      LOG.debug("feed {}: the file is read", id);
      teller.at(sum.rows(), sum.rows(), "keeping what changed");
      var sentence = sentence(sum);
      transactions.run(() -> {
        keeping.send(dataSource, people);
        rejects(id, sum.rejects());
        loaded(id, sentence, sum);
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
      sweep.run();
    } catch (RuntimeException later) {
      LOG.warn("Planning what follows from feed {} waits for the next sweep", id, later);
    }
  }

  private Refused refuse(long id, String fileName, Actor actor, String sentence) {
    var shown = sentence.length() > 1_000 ? sentence.substring(0, 1_000) : sentence;
    refused(id, fileName, actor.login(), shown);
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
    if (feeds.end(new FeedEnd(id, "refused", sentence, 0, 0, "{}", now)) == 0) {
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

  private void loaded(long id, String sentence, FeedReading.Sum sum) {
    var counts = CanonicalJson.write(sum.counts());
    var aside = lines(sum.rejects());
    var ended =
        feeds.end(new FeedEnd(id, "loaded", sentence, sum.rows(), aside, counts, clock.instant()));
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
}
