package glenmoor.core.agenda;

import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.temporal.ChronoUnit;

/**
 * Spans of days in the organisation's zone. A day of the calendar is not always 24 hours long: a
 * span of days ends at the time of day at which it began, whatever the clocks did meanwhile.
 */
public final class CalendarDays {
  private CalendarDays() {}

  /** The moment so many days after another one. */
  public static Instant after(Instant start, long days, ZoneId zone) {
    return start.atZone(zone).plusDays(days).toInstant();
  }

  /** The moment a length after another one: its days by the calendar, then the rest of it. */
  public static Instant after(Instant start, Duration length, ZoneId zone) {
    return start
        .atZone(zone)
        .plusDays(length.toDays())
        .plus(length.minusDays(length.toDays()))
        .toInstant();
  }

  /** How many days there are between two moments; one that is begun counts as a whole one. */
  public static long between(Instant start, Instant end, ZoneId zone) {
    var from = start.atZone(zone);
    var days = ChronoUnit.DAYS.between(from, end.atZone(zone));
    return from.plusDays(days).toInstant().isBefore(end) ? days + 1 : days;
  }
}
