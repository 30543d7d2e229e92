package glenmoor.core.requests;

import glenmoor.core.agenda.CalendarDays;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.Optional;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;

/** How long somebody has what an offer gives them. */
public sealed interface Term {
  /** So long, whatever the asker says. */
  record Fixed(Duration length) implements Term {}

  /** To the end of a day. */
  record Until(LocalDate day) implements Term {}

  /** As long as the asker chooses, but no longer than this; that long where they say nothing. */
  record UpTo(Duration most) implements Term {}

  /** Until somebody ends it, or to the end of the day that the asker chooses. */
  record OpenEnded() implements Term {}

  /** What can be written, as an error names it. */
  String EXAMPLES = "open, 90 days, 36 hours, up to 180 days, until 2027-10-31";

  Pattern LENGTH = Pattern.compile("(up to )?(\\d{1,4}) (hour|day)s?");
  Pattern UNTIL = Pattern.compile("until (\\d{4}-\\d{2}-\\d{2})");

  static Optional<Term> of(String text) {
    var length = LENGTH.matcher(text);
    if (length.matches()) {
      var number = Long.parseLong(length.group(2));
      var duration =
          length.group(3).equals("hour") ? Duration.ofHours(number) : Duration.ofDays(number);
      return number == 0
          ? Optional.empty()
          : Optional.of(length.group(1) == null ? new Fixed(duration) : new UpTo(duration));
    }
    var until = UNTIL.matcher(text);
    if (until.matches()) {
      try {
        return Optional.of(new Until(LocalDate.parse(until.group(1))));
      } catch (DateTimeException noDay) {
        return Optional.empty();
      }
    }
    return text.equals("open") ? Optional.of(new OpenEnded()) : Optional.empty();
  }

  /** The same as it is written in a definition. */
  default String written() {
    return switch (this) {
      case Fixed fixed -> length(fixed.length());
      case Until until -> "until " + until.day();
      case UpTo upTo -> "up to " + length(upTo.most());
      case OpenEnded open -> "open";
    };
  }

  private static String length(Duration length) {
    var days = length.toDays();
    if (!length.equals(Duration.ofDays(days))) {
      return length.toHours() + (length.toHours() == 1 ? " hour" : " hours");
    }
    return days + (days == 1 ? " day" : " days");
  }

  /** Whether the asker may say a last day of their own. */
  default boolean chosen() {
    return this instanceof UpTo || this instanceof OpenEnded;
  }

  /**
   * When what begins at a moment ends; null where it is open-ended. Days are days of the zone, so
   * that a term of days ends at the time of day at which it began, whatever the clocks did.
   *
   * @param lastDay what the asker chose; null for nothing
   * @throws Unaskable if the asker cannot choose it, or it has no time to run
   */
  default @Nullable Instant end(Instant start, @Nullable LocalDate lastDay, ZoneId zone) {
    if (lastDay != null && !chosen()) {
      throw new Unaskable("lastDay", "The offer says how long it lasts: %s.".formatted(written()));
    }
    var chosen = lastDay == null ? null : lastDay.plusDays(1).atStartOfDay(zone).toInstant();
    if (chosen != null && !chosen.isAfter(start)) {
      throw new Unaskable("lastDay", "It cannot end on %s, before it begins.".formatted(lastDay));
    }
    return switch (this) {
      case Fixed fixed -> after(start, fixed.length(), zone);
      case Until until -> {
        var end = until.day().plusDays(1).atStartOfDay(zone).toInstant();
        if (!end.isAfter(start)) {
          throw new Unaskable(
              "start", "It would be over when it begins: the offer lasts %s.".formatted(written()));
        }
        yield end;
      }
      case UpTo upTo -> {
        var latest = after(start, upTo.most(), zone);
        if (chosen == null) {
          yield latest;
        }
        // The whole last day counts, also where it began in the middle of one.
        if (chosen.isAfter(CalendarDays.after(latest, 1, zone))) {
          throw new Unaskable(
              "lastDay",
              "%s is too far: the offer lasts %s, so to %s at the latest."
                  .formatted(lastDay, written(), latest.atZone(zone).toLocalDate()));
        }
        yield chosen;
      }
      case OpenEnded open -> chosen;
    };
  }

  private static Instant after(Instant start, Duration length, ZoneId zone) {
    return CalendarDays.after(start, length, zone);
  }
}
