package glenmoor.engine.lifecycle;

import glenmoor.core.ledger.CanonicalJson;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.lifecycle.Detected;
import glenmoor.core.lifecycle.FactChange;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Latin;
import glenmoor.core.people.Person;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.names.NameChanges;
import glenmoor.store.BulkRows;
import glenmoor.store.Ids;
import glenmoor.store.Parts;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.time.SqlTime;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import javax.sql.DataSource;
import org.jspecify.annotations.Nullable;

/**
 * Keeps what a feed means: people, events and ledger entries, gathered in files while the feed is
 * read and sent in bulk in one short transaction.
 */
final class FeedWriting implements FeedReading.Changes, AutoCloseable {
  private static final int STATEMENT = 1_000;
  private static final List<String> DATED =
      List.of("starts_on", "ends_on", "leave_from", "leave_to", "absent_since");

  private final long feed;
  private final String source;
  private final String actor;
  private final Ids ids;
  private final Instant now;
  private final String nowText;
  private final LocalDate today;
  private final boolean planLater;
  private final BulkRows joiners;
  private final BulkRows staged;
  private final BulkRows events;
  private final BulkRows entries;
  private final List<Long> gone = new ArrayList<>();
  private final List<Long> missed = new ArrayList<>();
  private final NameChanges.Renamed renamed = new NameChanges.Renamed();

  /**
   * @param planLater whether the people will have to be planned for; without any birthright or
   *     grant there is nothing to plan
   */
  FeedWriting(
      long feed,
      String source,
      String actor,
      Ids ids,
      Instant now,
      LocalDate today,
      boolean planLater) {
    this.feed = feed;
    this.source = source;
    this.actor = actor;
    this.ids = ids;
    this.now = now;
    nowText = SqlTime.write(now);
    this.today = today;
    this.planLater = planLater;
    joiners =
        new BulkRows(
            "person",
            with(
                List.of(
                    "id",
                    "worker_number",
                    "worker_key",
                    "name",
                    "search_name",
                    "facts",
                    "source",
                    "0xsource_digest"),
                List.of("due_at", "due_cause")));
    staged =
        new BulkRows(
            "feed_staged",
            with(
                List.of(
                    "feed_id",
                    "person_id",
                    "source",
                    "name",
                    "search_name",
                    "facts",
                    "0xsource_digest"),
                List.of()));
    events =
        new BulkRows(
            "event",
            List.of(
                "id",
                "person_id",
                "kind",
                "effective_on",
                "feed_id",
                "changes",
                "detected_at",
                "planned_at"));
    entries =
        new BulkRows(
            "ledger_entry",
            List.of("id", "happened_at", "actor", "cause", "subject", "what", "entry"));
  }

  private static List<String> with(List<String> first, List<String> last) {
    var all = new ArrayList<>(first);
    all.addAll(DATED);
    all.addAll(last);
    return all;
  }

  @Override
  public void startOver() {
    Stream.of(joiners, staged, events, entries).forEach(BulkRows::startOver);
    gone.clear();
    missed.clear();
    renamed.clear();
  }

  @Override
  public void take(List<FeedReading.Change> batch) {
    batch.forEach(this::take);
  }

  @Override
  public void missed(List<Long> people) {
    missed.addAll(people);
  }

  private void take(FeedReading.Change change) {
    var person = change.after();
    var id = person.id().value();
    var digest = change.digest();
    if (digest == null) {
      gone.add(id);
    } else if (change.before() == null) {
      joiner(person, digest);
    } else {
      staged(person, digest);
      if (!change.before().facts().fullName().equals(person.facts().fullName())) {
        renamed.add(id);
      }
    }
    var detected = change.detected();
    if (detected == null) {
      return;
    }
    for (var event : detected.events(today)) {
      events.add(
          ids.next(),
          id,
          event.kind().word(),
          event.effective(),
          feed,
          changes(event.changes()),
          nowText,
          planLater ? null : nowText);
      entry(change, event);
    }
  }

  private void joiner(Person person, KnownWorkers.Digest digest) {
    var facts = person.facts();
    renamed.add(person.id().value());
    joiners.add(
        person.id().value(),
        person.worker(),
        person.worker().key(),
        facts.fullName(),
        Latin.letters(facts.fullName()),
        FactsJson.write(facts),
        source,
        digest.hex(),
        date(facts, Facts.START),
        date(facts, Facts.END),
        date(facts, Facts.LEAVE_FROM),
        date(facts, Facts.LEAVE_TO),
        person.absentSince(),
        planLater ? nowText : null,
        "feed:" + feed);
  }

  private void staged(Person person, KnownWorkers.Digest digest) {
    var facts = person.facts();
    staged.add(
        feed,
        person.id().value(),
        source,
        facts.fullName(),
        Latin.letters(facts.fullName()),
        FactsJson.write(facts),
        digest.hex(),
        date(facts, Facts.START),
        date(facts, Facts.END),
        date(facts, Facts.LEAVE_FROM),
        date(facts, Facts.LEAVE_TO),
        person.absentSince());
  }

  private static @Nullable LocalDate date(Facts facts, String key) {
    return facts.date(key).orElse(null);
  }

  static String changes(List<FactChange> changes) {
    return CanonicalJson.write(
        changes.stream()
            .map(change -> {
              var plain = new LinkedHashMap<String, Object>();
              plain.put("fact", change.fact());
              plain.put("before", text(change.before()));
              plain.put("after", text(change.after()));
              return plain;
            })
            .toList());
  }

  private static String text(@Nullable Object value) {
    return value == null ? "" : value.toString();
  }

  private void entry(FeedReading.Change change, Detected detected) {
    var before = new LinkedHashMap<String, Object>();
    var after = new LinkedHashMap<String, Object>();
    if (change.before() == null) {
      after.putAll(change.after().facts().values());
    }
    for (var each : detected.changes()) {
      before.put(each.fact(), each.before() == null ? "" : each.before());
      after.put(each.fact(), each.after() == null ? "" : each.after());
    }
    if (change.digest() == null) {
      after.put("absentSince", today.toString());
    }
    var row =
        Ledger.row(
            ids.next(),
            new LedgerEntry(
                now,
                actor,
                "feed:" + feed,
                "person:" + change.after().worker(),
                detected.kind().word(),
                Map.copyOf(before),
                Map.copyOf(after)));
    entries.add(
        row.id(), nowText, row.actor(), row.cause(), row.subject(), row.what(), row.entry());
  }

  /**
   * Sends all of it, inside the caller's transaction.
   *
   * @param proven whether the feed is full and can tell who is missing
   */
  void send(DataSource dataSource, PersonMapper people, NameChanges names, boolean proven) {
    joiners.send(dataSource);
    staged.send(dataSource);
    if (staged.rows() > 0) {
      people.applyStaged(feed, now);
      people.clearStaged(feed);
    }
    Parts.each(gone, STATEMENT, part -> people.endAbsent(part, today, now, "feed:" + feed));
    Parts.each(missed, STATEMENT, part -> people.missed(part, feed, today));
    if (proven) {
      people.notMissed(source, feed);
    }
    events.send(dataSource);
    entries.send(dataSource);
    names.tell(renamed);
  }

  @Override
  public void close() {
    joiners.close();
    staged.close();
    events.close();
    entries.close();
  }
}
