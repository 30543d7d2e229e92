package glenmoor.engine.lifecycle;

import glenmoor.core.ledger.CanonicalJson;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.lifecycle.KeptFeed;
import glenmoor.core.lifecycle.Reject;
import glenmoor.core.lifecycle.RejectedRow;
import glenmoor.engine.Refused;
import glenmoor.engine.jobs.Jobs;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Ids;
import glenmoor.store.Parts;
import glenmoor.store.lifecycle.FeedMapper;
import glenmoor.store.lifecycle.FeedMapper.FeedEnd;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DuplicateKeyException;

/**
 * The record of each feed: that it is being read, how it ended, and which rows were set aside. A
 * unique key on the source of the feed being read lets one feed of a source be read at a time.
 */
@Named
public final class FeedRecord implements RecurringJob.Owner {
  private static final Logger LOG = LoggerFactory.getLogger(FeedRecord.class);
  private static final int STATEMENT = 500;
  private static final int LONGEST_SENTENCE = 1_000;
  private static final Duration BETWEEN_LOOKS = Duration.ofMillis(500);

  private final FeedMapper feeds;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Ids ids;
  private final Clock clock;

  public FeedRecord(
      FeedMapper feeds, Transactions transactions, Ledger ledger, Ids ids, Clock clock) {
    this.feeds = feeds;
    this.transactions = transactions;
    this.ledger = ledger;
    this.ids = ids;
    this.clock = clock;
  }

  /**
   * Marks a feed as being read. Another feed of its source is waited for, for as long as it takes
   * to tell whether the service that reads it has died; if it has, that feed is closed.
   *
   * @return the identity of the feed
   * @throws Refused if another feed of its source is still being read after that
   */
  long begin(Delivery delivery, Jobs.ProgressReporter reporter) {
    var row = reading(delivery, clock.instant(), reporter.work());
    var source = delivery.source();
    for (var waited = Duration.ZERO; ; waited = waited.plus(BETWEEN_LOOKS)) {
      try {
        feeds.insert(row);
        return row.id();
      } catch (DuplicateKeyException another) {
        if (waited.compareTo(Jobs.TOLD_DEAD_AFTER) > 0) {
          throw new Refused(
              Refused.Reason.NOT_NOW,
              "Another feed of %s is being read; bring this one once that is done. Nothing was changed."
                  .formatted(source.name()));
        }
      }
      reporter.at(
          0, 0, "another feed of %s is being read; this one waits".formatted(source.name()));
      pause();
      closeDead(source.key());
    }
  }

  private KeptFeed reading(Delivery delivery, Instant now, long work) {
    return new KeptFeed(
        ids.next(),
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
        0L);
  }

  private static void pause() {
    try {
      Thread.sleep(BETWEEN_LOOKS);
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
    }
  }

  /**
   * Ends a feed that was read, inside the caller's transaction, with the rows that were set aside.
   *
   * @param state {@code loaded} or {@code held}
   * @param change the held change, 0 if there is none
   * @throws IllegalStateException if it was closed meanwhile; the caller's transaction must not be
   *     committed then
   */
  void end(long id, String state, String sentence, FeedReading.Sum sum, long change) {
    rejects(id, sum.rejects());
    var ended =
        feeds.end(
            new FeedEnd(
                id,
                state,
                cut(sentence, LONGEST_SENTENCE),
                sum.rows(),
                sum.aside(),
                CanonicalJson.write(sum.counts()),
                clock.instant(),
                change));
    if (ended == 0) {
      throw new IllegalStateException("it took so long that it was taken for dead and closed");
    }
  }

  private void rejects(long feed, List<Reject> rejects) {
    var rows = new ArrayList<RejectedRow>();
    for (var reject : rejects) {
      rows.add(
          new RejectedRow(
              rows.size() + 1,
              Math.toIntExact(reject.line()),
              cut(reject.worker(), 200),
              cut(reject.column(), 200),
              cut(reject.found(), 400),
              cut(reject.expected(), 1_000)));
    }
    Parts.each(rows, STATEMENT, part -> feeds.addRejects(feed, part));
  }

  /**
   * Ends a feed of which nothing was kept.
   *
   * @return what to tell whoever brought it
   */
  Refused refuse(long id, Delivery delivery, String sentence) {
    var shown = cut(sentence, LONGEST_SENTENCE);
    transactions.run(() -> refused(id, delivery.fileName(), delivery.actor().login(), shown));
    return Refused.badInput(shown);
  }

  /** Closes all feeds whose service ended while it read them. */
  public void closeDead() {
    closeDead(null);
  }

  private void closeDead(@Nullable String source) {
    for (var feed : feeds.dead(source, Jobs.DEAD_AFTER.toSeconds())) {
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

  @Nullable KeptFeed byId(long id) {
    return feeds.byId(id);
  }

  /** The newest feed of a source that was taken; null before the first. */
  @Nullable Long newestLoaded(String source) {
    return feeds.newestLoaded(source);
  }

  private static String cut(String text, int longest) {
    return text.length() > longest ? text.substring(0, longest - 1) + "…" : text;
  }

  @Override
  public RecurringJob recurring() {
    return new RecurringJob(
        "feeds", "closes feeds whose service ended", Duration.ofSeconds(10), this::closeDead);
  }
}
