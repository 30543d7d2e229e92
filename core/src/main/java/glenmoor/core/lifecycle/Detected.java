package glenmoor.core.lifecycle;

import glenmoor.core.people.FactDefinition;
import glenmoor.core.people.FactDefinition.OnChange;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Person;
import glenmoor.core.people.Standing;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;

/**
 * What was found by comparing what was known of a person with what is known now.
 *
 * @param effective the day from which it counts: today, a start ahead, the day after the last day
 * @param moves whether the same row says a move as well: a new department together with a last day,
 *     a leave or a return
 */
public record Detected(
    EventKind kind, LocalDate effective, List<FactChange> changes, boolean moves) {
  Detected(EventKind kind, LocalDate effective, List<FactChange> changes) {
    this(kind, effective, changes, false);
  }

  /** Each event that it is. */
  public List<Detected> events(LocalDate today) {
    return moves
        ? List.of(
            new Detected(kind, effective, changes), new Detected(EventKind.MOVER, today, changes))
        : List.of(this);
  }

  /** The move between what was and what is, whatever else changed; nothing where there is none. */
  public static Optional<Detected> move(
      Person before, Person after, Map<String, FactDefinition> definitions, LocalDate today) {
    var changes = changes(before.facts(), after.facts());
    return moved(changes, definitions)
        ? Optional.of(new Detected(EventKind.MOVER, today, changes))
        : Optional.empty();
  }

  /**
   * What a difference means.
   *
   * @param before what was known, or null for somebody new
   * @param definitions the facts by key; a fact without a definition counts as a correction
   * @return nothing when no fact differs
   */
  public static Optional<Detected> between(
      @Nullable Person before,
      Person after,
      Map<String, FactDefinition> definitions,
      LocalDate today) {
    if (before == null) {
      var start = after.facts().date(Facts.START).filter(today::isBefore).orElse(today);
      return Optional.of(new Detected(EventKind.JOINER, start, List.of()));
    }
    var changes = changes(before.facts(), after.facts());
    var wentAbsent = before.absentSince() == null && after.absentSince() != null;
    if (after.cutOff() != null) {
      // They have nothing any more, so whatever their source says touches no access.
      return changes.isEmpty() && !wentAbsent
          ? Optional.empty()
          : Optional.of(new Detected(EventKind.CORRECTION, today, changes));
    }
    if (wentAbsent) {
      // Whoever had not begun never came.
      var kind =
          Standing.of(before, today) == Standing.EXPECTED ? EventKind.NO_SHOW : EventKind.LEAVER;
      return Optional.of(new Detected(kind, today, changes));
    }
    var cameBack = before.absentSince() != null && after.absentSince() == null;
    if (changes.isEmpty() && !cameBack) {
      return Optional.empty();
    }
    var meaning = meaning(before, after, changes, definitions, today);
    return Optional.of(
        meaning.goesWithMove() && !Standing.of(after, today).isGone() && moved(changes, definitions)
            ? new Detected(meaning.kind, meaning.effective, changes, true)
            : meaning);
  }

  /** Whoever comes to be, comes back or never came does not move; a move is one by itself. */
  private boolean goesWithMove() {
    return switch (kind) {
      case LEAVER, LEAVE_BEGINS, LEAVE_ENDS, START_MOVED -> true;
      case JOINER, MOVER, REHIRE, CORRECTION, NO_SHOW -> false;
    };
  }

  private static boolean moved(List<FactChange> changes, Map<String, FactDefinition> definitions) {
    return changes.stream()
        .map(change -> definitions.get(change.fact()))
        .anyMatch(fact -> fact != null && fact.onChange() == OnChange.MOVE);
  }

  private static Detected meaning(
      Person before,
      Person after,
      List<FactChange> changes,
      Map<String, FactDefinition> definitions,
      LocalDate today) {
    var was = Standing.of(before, today);
    var is = Standing.of(after, today);
    var start = after.facts().date(Facts.START).filter(today::isBefore).orElse(today);
    if (was.isGone() && !is.isGone()) {
      return new Detected(EventKind.REHIRE, start, changes);
    }
    var end = after.facts().date(Facts.END);
    if (was == Standing.EXPECTED && is.isGone()) {
      // Over before it began.
      return new Detected(EventKind.NO_SHOW, today, changes);
    }
    if (before.facts().countLater() && !after.facts().countLater()) {
      // It was agreed that they count: that they begin is the event, whatever last day they have.
      return new Detected(EventKind.START_MOVED, start, changes);
    }
    if (end.isPresent() && changed(changes, Facts.END)) {
      var firstDayAway = end.get().plusDays(1);
      var effective = firstDayAway.isBefore(today) ? today : firstDayAway;
      return new Detected(EventKind.LEAVER, effective, changes);
    }
    if (changed(changes, Facts.START) && (was == Standing.EXPECTED || is == Standing.EXPECTED)) {
      return new Detected(EventKind.START_MOVED, start, changes);
    }
    var leaveFrom = after.facts().date(Facts.LEAVE_FROM);
    if (leaveFrom.isPresent() && changed(changes, Facts.LEAVE_FROM)) {
      var from = leaveFrom.get().isBefore(today) ? today : leaveFrom.get();
      return new Detected(EventKind.LEAVE_BEGINS, from, changes);
    }
    if (was == Standing.ON_LEAVE && is == Standing.ACTIVE) {
      return new Detected(EventKind.LEAVE_ENDS, today, changes);
    }
    return new Detected(
        moved(changes, definitions) ? EventKind.MOVER : EventKind.CORRECTION, today, changes);
  }

  private static boolean changed(List<FactChange> changes, String fact) {
    return changes.stream().anyMatch(change -> change.fact().equals(fact));
  }

  private static List<FactChange> changes(Facts before, Facts after) {
    var keys = new TreeSet<>(before.values().keySet());
    keys.addAll(after.values().keySet());
    var changes = new ArrayList<FactChange>();
    for (var key : keys) {
      if (!Objects.equals(before.get(key), after.get(key))) {
        changes.add(new FactChange(key, before.get(key), after.get(key)));
      }
    }
    return List.copyOf(changes);
  }
}
