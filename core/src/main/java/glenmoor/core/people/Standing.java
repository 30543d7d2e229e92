package glenmoor.core.people;

import java.time.LocalDate;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** Where a person is in their working life at a moment. Always derived from dates. */
public enum Standing {
  EXPECTED("expected"),
  ACTIVE("active"),
  ON_LEAVE("on-leave"),
  LEFT("left"),
  ERASED("erased");

  private final String word;

  Standing(String word) {
    this.word = word;
  }

  public String word() {
    return word;
  }

  /** Whether whoever stands so is not here any more. */
  public boolean isGone() {
    return this == LEFT || this == ERASED;
  }

  /**
   * The standing on a day. The end date is the last day of work; the leave dates are its first and
   * last day. A person who is no longer in a full feed has left from the day that was noticed, and
   * whoever was cut off has left whatever their source says. Whoever was erased stays so until they
   * are known again.
   */
  public static Standing of(Person person, LocalDate day) {
    if (person.erasedOn() != null && !day.isBefore(person.erasedOn())) {
      return ERASED;
    }
    var facts = person.facts();
    if (hasLeft(facts.date(Facts.END).orElse(null), person.absentSince(), person.cutOff(), day)) {
      return LEFT;
    }
    if (facts.date(Facts.START).filter(day::isBefore).isPresent()) {
      return EXPECTED;
    }
    var leaveFrom = facts.date(Facts.LEAVE_FROM);
    if (leaveFrom.isPresent()
        && !day.isBefore(leaveFrom.get())
        && facts.date(Facts.LEAVE_TO).filter(day::isAfter).isEmpty()) {
      return ON_LEAVE;
    }
    return ACTIVE;
  }

  /**
   * Whether somebody has left by a day.
   *
   * @param end their last day; null where there is none
   * @param absentSince the first day on which a full feed no longer named them; null if it does
   * @param cutOff the day on which they were cut off; null if they were not
   */
  public static boolean hasLeft(
      @Nullable LocalDate end,
      @Nullable LocalDate absentSince,
      @Nullable LocalDate cutOff,
      LocalDate day) {
    return absentSince != null && !day.isBefore(absentSince)
        || cutOff != null && !day.isBefore(cutOff)
        || end != null && day.isAfter(end);
  }

  /** The first day after the given one on which the standing may be another one. */
  public static Optional<LocalDate> nextChange(Person person, LocalDate day) {
    var facts = person.facts();
    return Stream.of(
            facts.date(Facts.START).filter(first -> !first.equals(Facts.NOT_YET)),
            facts.date(Facts.END).map(last -> last.plusDays(1)),
            facts.date(Facts.LEAVE_FROM),
            facts.date(Facts.LEAVE_TO).map(last -> last.plusDays(1)),
            Optional.ofNullable(person.absentSince()),
            Optional.ofNullable(person.cutOff()))
        .flatMap(Optional::stream)
        .filter(change -> change.isAfter(day))
        .min(LocalDate::compareTo);
  }
}
