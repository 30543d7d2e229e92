package glenmoor.core.people;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** A stretch of one standing; {@code until} is the first day after it, null while open. */
public record StandingSpan(String standing, @Nullable LocalDate from, @Nullable LocalDate until) {

  /** The stretches that follow from the dates that are known now, oldest first. */
  public static List<StandingSpan> of(Person person, LocalDate today) {
    var from = person.facts().date(Facts.START).orElse(today);
    var spans = new ArrayList<StandingSpan>();
    var day = from.isAfter(today) ? today : from;
    var since = day;
    var standing = Standing.of(person, day);
    while (true) {
      var next = Standing.nextChange(person, day);
      if (next.isEmpty()) {
        spans.add(new StandingSpan(standing.word(), since, null));
        return spans;
      }
      day = next.get();
      var then = Standing.of(person, day);
      if (then != standing) {
        spans.add(new StandingSpan(standing.word(), since, day));
        since = day;
        standing = then;
      }
    }
  }
}
