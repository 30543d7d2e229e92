package glenmoor.engine.lifecycle;

import glenmoor.core.access.Catalogue;
import glenmoor.core.lifecycle.Detected;
import glenmoor.core.lifecycle.EventKind;
import glenmoor.core.lifecycle.Source;
import glenmoor.core.people.Person;
import glenmoor.core.people.Standing;
import glenmoor.engine.lifecycle.FeedReading.Change;
import glenmoor.engine.lifecycle.FeedReading.Changes;
import glenmoor.store.Parts;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import java.time.LocalDate;
import java.util.List;
import java.util.function.Consumer;
import java.util.stream.Collectors;

/**
 * What it means that a full feed does not name people it has brought: they have left, unless they
 * had already, or more feeds in a row have to say so. A file that comes twice on one day says so
 * once.
 */
final class MissingPeople {
  private static final int BATCH = 500;

  private final Source source;
  private final Catalogue catalogue;
  private final PersonMapper people;
  private final LocalDate today;
  private int gone;
  private int waiting;

  MissingPeople(Source source, Catalogue catalogue, PersonMapper people, LocalDate today) {
    this.source = source;
    this.catalogue = catalogue;
    this.people = people;
    this.today = today;
  }

  /** How many have left by that. */
  int gone() {
    return gone;
  }

  /** How many have not yet. */
  int waiting() {
    return waiting;
  }

  /**
   * Gives what it means, in batches.
   *
   * @param ids whom the feed does not name
   * @param counted called with each event
   */
  void judge(List<Long> ids, Changes changes, Consumer<EventKind> counted) {
    Parts.each(
        ids,
        BATCH,
        part -> {
          var rows =
              people.byIds(part).stream()
                  .filter(row -> !hasLeft(FactsJson.person(row, catalogue.facts()), today))
                  .collect(Collectors.partitioningBy(this::isTooOften));
          var missed = rows.getOrDefault(false, List.of()).stream().map(PersonRow::id).toList();
          waiting += missed.size();
          if (!missed.isEmpty()) {
            changes.missed(missed);
          }
          var batch =
              rows.getOrDefault(true, List.of()).stream()
                  .flatMap(row -> change(row, counted).stream())
                  .toList();
          if (!batch.isEmpty()) {
            changes.take(batch);
          }
        });
  }

  /** Whether their own source says so: that they were cut off tells nothing of what it says. */
  static boolean hasLeft(Person person, LocalDate today) {
    return Standing.of(person.bySource(), today).isGone();
  }

  private boolean isTooOften(PersonRow row) {
    var before = row.missingFeeds() - (today.equals(row.missingOn()) ? 1 : 0);
    return before + 1 >= source.missingAfter();
  }

  private List<Change> change(PersonRow row, Consumer<EventKind> counted) {
    var before = FactsJson.person(row, catalogue.facts());
    return Detected.between(before, before.absentFrom(today), catalogue.facts(), today)
        .map(detected -> {
          counted.accept(detected.kind());
          gone++;
          return new Change(before, before.absentFrom(today), detected, null);
        })
        .map(List::of)
        .orElse(List.of());
  }
}
