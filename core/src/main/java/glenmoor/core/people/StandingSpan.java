package glenmoor.core.people;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** A stretch of one standing; {@code until} is the first day after it, null while open. */
public record StandingSpan(String standing, @Nullable LocalDate from, @Nullable LocalDate until) {

  /**
   * A person as they were known from a day on.
   *
   * @param from the day on which that was recorded
   */
  public record Known(Person person, LocalDate from) {}

  /**
   * The stretches as they were: what has passed by what was known then, what is ahead by what is
   * known now. Before the first record there is only what that said.
   *
   * @param known oldest first, at least one
   */
  public static List<StandingSpan> through(List<Known> known) {
    var spans = new ArrayList<StandingSpan>();
    for (var i = 0; i < known.size(); i++) {
      var one = known.get(i);
      var until = i + 1 < known.size() ? known.get(i + 1).from() : null;
      var from = i == 0 ? beginning(one.person(), one.from()) : one.from();
      if (until == null || from.isBefore(until)) {
        stretches(one.person(), from, until).forEach(span -> add(spans, span));
      }
    }
    return List.copyOf(spans);
  }

  private static LocalDate beginning(Person person, LocalDate recorded) {
    return person.facts().date(Facts.START).filter(recorded::isAfter).orElse(recorded);
  }

  /** The stretches of one version of somebody, from a day up to another, which is not in it. */
  private static List<StandingSpan> stretches(
      Person person, LocalDate from, @Nullable LocalDate until) {
    var spans = new ArrayList<StandingSpan>();
    var since = from;
    while (true) {
      var next =
          Standing.nextChange(person, since).filter(day -> until == null || day.isBefore(until));
      spans.add(new StandingSpan(Standing.of(person, since).word(), since, next.orElse(until)));
      if (next.isEmpty()) {
        return spans;
      }
      since = next.get();
    }
  }

  /** Two of the same standing, one after the other, are one. */
  private static void add(List<StandingSpan> spans, StandingSpan span) {
    if (!spans.isEmpty() && spans.getLast().standing().equals(span.standing())) {
      var before = spans.removeLast();
      spans.add(new StandingSpan(before.standing(), before.from(), span.until()));
    } else {
      spans.add(span);
    }
  }
}
