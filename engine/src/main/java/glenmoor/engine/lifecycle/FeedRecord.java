package glenmoor.engine.lifecycle;

import glenmoor.core.brakes.Brakes;
import glenmoor.core.ledger.CanonicalJson;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.lifecycle.KeptFeed;
import glenmoor.core.lifecycle.Reject;
import glenmoor.core.lifecycle.RejectedRow;
import glenmoor.engine.Refused;
import glenmoor.engine.jobs.LongWork;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.jobs.WorkProgress;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Ids;
import glenmoor.store.Parts;
import glenmoor.store.lifecycle.FeedMapper;
import glenmoor.store.lifecycle.FeedMapper.FeedEnd;
import jakarta.inject.Named;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DuplicateKeyException;

/**
 * The record of each feed: that it waits, that it is being read, how it ended, and which rows were
 * rejected. A unique key on the source of the feed being read lets one feed of a source be read at
 * a time.
 */
@Named
public final class FeedRecord implements RecurringJob.Owner {
  private static final Logger LOG = LoggerFactory.getLogger(FeedRecord.class);
  private static final int STATEMENT = 500;
  private static final int LONGEST_SENTENCE = 1_000;

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
   * Notes a feed that was brought and waits for its turn, inside the caller's transaction.
   *
   * @param work the work that will load it
   */
  KeptFeed bring(String source, String fileName, String login, long work) {
    var row =
        new KeptFeed(
            ids.next(),
            source,
            fileName,
            "waiting",
            "waits for its turn",
            0,
            0,
            "{}",
            clock.instant(),
            null,
            login,
            work,
            0L);
    feeds.insert(row);
    return row;
  }

  /**
   * Marks a feed as being read, or finds it so marked by a service that died over it. Feeds of a
   * source are taken in the order in which they were brought.
   *
   * @return the identity of the feed
   * @throws LongWork.NotYet while an earlier feed of its source waits or is read
   * @throws Refused if a newer feed of its source was taken meanwhile, or this one has ended
   */
  long begin(Delivery delivery, WorkProgress progress) {
    var source = delivery.source();
    var known = feeds.byWork(progress.work());
    var row =
        known == null
            ? bring(source.key(), delivery.fileName(), delivery.actor().login(), progress.work())
            : known;
    if (row.state().equals("reading")) {
      LOG.info("Feed {} ({}) is read anew", row.id(), row.fileName());
      return row.id();
    }
    if (!row.state().equals("waiting")) {
      throw new Refused(
          Refused.Reason.NOT_NOW, "Feed %d was %s already.".formatted(row.id(), row.state()));
    }
    var newest = newestLoaded(source.key());
    if (newest != null && newest > row.id()) {
      throw refuse(
          row.id(),
          delivery,
          "A newer feed of %s was taken since (feed %d), so this one is out of date, and nothing was changed."
              .formatted(source.name(), newest));
    }
    closeDead(source.key());
    if (feeds.earlierOpen(source.key(), row.id()) || !took(row.id())) {
      throw new LongWork.NotYet(
          "another feed of %s is being read; this one waits".formatted(source.name()));
    }
    return row.id();
  }

  private boolean took(long id) {
    try {
      return feeds.beginReading(id) > 0;
    } catch (DuplicateKeyException another) {
      return false;
    }
  }

  /** Keeps what the brakes measured of a feed, whether it is held or not. */
  void measured(long id, Brakes.Measured measured) {
    transactions.run(() -> feeds.measure(id, BrakeTrial.write(measured)));
  }

  /**
   * Ends a feed that was read, inside the caller's transaction, with the rows that were rejected.
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

  /** Ends the feed of work that ended without it, inside the caller's transaction. */
  void refuseUnread(long work, String sentence) {
    var row = feeds.byWork(work);
    if (row != null) {
      refused(row.id(), row.fileName(), row.loadedBy(), cut(sentence, LONGEST_SENTENCE));
    }
  }

  /** Closes all feeds whose work is over. */
  public void closeDead() {
    closeDead(null);
  }

  private void closeDead(@Nullable String source) {
    for (var feed : feeds.dead(source)) {
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
  public List<RecurringJob> recurring() {
    return List.of(
        new RecurringJob(
            "feeds", "closes feeds whose work is over", Duration.ofSeconds(10), this::closeDead));
  }
}
