package glenmoor.core.playbooks;

import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.Optional;
import java.util.regex.Pattern;

/**
 * When a step is due: so many days after the day that its run is about, or before it where the
 * number is negative, at a time in the organisation's zone.
 */
public record When(int days, LocalTime time) {
  private static final Pattern WRITTEN =
      Pattern.compile("(?:on the day|(\\d{1,3}) days? (before|after))(?:,? (\\d{2}:\\d{2}))?");

  /** How it is written in a definition, such as {@code 1 day before, 18:00}. */
  public static final String EXAMPLES =
      "7 days before; 1 day before, 18:00; on the day; 45 days after";

  /** Reads what a definition says; nothing where it is no such moment. */
  public static Optional<When> of(String text) {
    var found = WRITTEN.matcher(text.strip());
    if (!found.matches()) {
      return Optional.empty();
    }
    var days = found.group(1) == null ? 0 : Integer.parseInt(found.group(1));
    try {
      return Optional.of(
          new When(
              "before".equals(found.group(2)) ? -days : days,
              found.group(3) == null ? LocalTime.MIDNIGHT : LocalTime.parse(found.group(3))));
    } catch (DateTimeException noTime) {
      return Optional.empty();
    }
  }

  /** The moment of it for a run that is about this day. */
  public Instant at(LocalDate day, ZoneId zone) {
    return day.plusDays(days).atTime(time).atZone(zone).toInstant();
  }

  boolean before(When other) {
    return days < other.days || days == other.days && time.isBefore(other.time);
  }

  @Override
  public String toString() {
    var day =
        days == 0
            ? "on the day"
            : "%d %s %s"
                .formatted(
                    Math.abs(days),
                    Math.abs(days) == 1 ? "day" : "days",
                    days < 0 ? "before" : "after");
    return time.equals(LocalTime.MIDNIGHT) ? day : day + ", " + time;
  }
}
