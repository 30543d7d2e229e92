package glenmoor.core.playbooks;

import glenmoor.core.lifecycle.EventKind;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Person;
import glenmoor.core.people.Standing;
import java.time.LocalDate;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * Whether a run that an event began still makes sense, as the person's facts are now: a leaver who
 * came back is not deleted, and whoever begins later gets their letter later.
 */
public sealed interface RunDay {
  record Stays() implements RunDay {}

  /** It is about another day now. */
  record Moves(LocalDate day) implements RunDay {}

  /** It is over; the reason is a sentence without a full stop. */
  record Over(String reason) implements RunDay {}

  /**
   * @param on what the run began on
   * @param day the day it is about
   */
  static RunDay of(EventKind on, LocalDate day, Person person, LocalDate today) {
    var left = Standing.of(person, today).isGone();
    return switch (on) {
      case JOINER, REHIRE, START_MOVED ->
          left ? new Over("they have left") : beginning(day, person, today);
      case LEAVER -> leaving(day, person, today);
      case LEAVE_BEGINS ->
          left
              ? new Over("they have left")
              : ofFact(day, person.facts().date(Facts.LEAVE_FROM), today, "there is no leave");
      case LEAVE_ENDS ->
          left
              ? new Over("they have left")
              : ofFact(
                  day,
                  person.facts().date(Facts.LEAVE_TO).map(last -> last.plusDays(1)),
                  today,
                  "no day is known on which the leave ends");
      case NO_SHOW -> left ? new Stays() : new Over("they came after all");
      case MOVER, CORRECTION -> left ? new Over("they have left") : new Stays();
    };
  }

  /** The first day that is ahead decides; once it has come, it is that day. */
  private static RunDay beginning(LocalDate day, Person person, LocalDate today) {
    return person
        .facts()
        .date(Facts.START)
        .filter(start -> !start.equals(day) && (start.isAfter(today) || day.isAfter(today)))
        .<RunDay>map(start -> new Moves(start.isAfter(today) ? start : today))
        .orElseGet(Stays::new);
  }

  private static RunDay leaving(LocalDate day, Person person, LocalDate today) {
    var leaves = leavesOn(person);
    if (leaves.isEmpty()) {
      return new Over("they stay, or came back");
    }
    // A day that has come stays the day: what was counted from it is not counted anew.
    var come = !day.isAfter(today);
    if (come) {
      return leaves.get().isAfter(today)
          ? new Over("they came back, and leave on another day")
          : new Stays();
    }
    return leaves.get().equals(day) ? new Stays() : new Moves(leaves.get());
  }

  private static RunDay ofFact(
      LocalDate day, Optional<LocalDate> fact, LocalDate today, String reason) {
    if (!day.isAfter(today)) {
      return new Stays();
    }
    return fact.<RunDay>map(date -> date.equals(day) ? new Stays() : new Moves(date))
        .orElseGet(() -> new Over(reason));
  }

  /** The first day on which somebody is not there any more, as far as it is known. */
  static Optional<LocalDate> leavesOn(Person person) {
    return Stream.of(
            person.facts().date(Facts.END).map(last -> last.plusDays(1)),
            Optional.ofNullable(person.absentSince()),
            Optional.ofNullable(person.cutOff()))
        .flatMap(Optional::stream)
        .min(LocalDate::compareTo);
  }

  /** The day of an event of this kind that comes by itself; nothing where none is known. */
  static Optional<LocalDate> comes(EventKind kind, Person person) {
    return switch (kind) {
      case JOINER -> person.facts().date(Facts.START);
      case LEAVER -> leavesOn(person);
      case LEAVE_BEGINS -> person.facts().date(Facts.LEAVE_FROM);
      case LEAVE_ENDS -> person.facts().date(Facts.LEAVE_TO).map(last -> last.plusDays(1));
      case MOVER, REHIRE, CORRECTION, START_MOVED, NO_SHOW -> Optional.empty();
    };
  }
}
