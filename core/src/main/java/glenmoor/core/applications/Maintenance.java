package glenmoor.core.applications;

import glenmoor.core.agenda.Schedule;
import glenmoor.core.definitions.Reading;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.Optional;
import java.util.regex.Pattern;

/**
 * When an application is worked on by its own people, so that nothing is sent to it; what there is
 * to do waits.
 *
 * @param at when it begins, in the organisation's zone
 * @param lasts for how long, at most {@link #LONGEST}
 */
public record Maintenance(Schedule at, Duration lasts) {
  static final Duration LONGEST = Duration.ofDays(7);
  private static final Pattern TIME = Pattern.compile("(\\d{1,4}) ?(minutes?|hours?)");

  /** Until when nothing is sent; nothing while it may be. */
  public Optional<Instant> until(Instant now, ZoneId zone) {
    return at.last(now, zone).map(begun -> begun.plus(lasts)).filter(now::isBefore);
  }

  /** What a definition says under {@code maintenance}; what is wrong is reported at its line. */
  static Optional<Maintenance> read(Reading reading) {
    var inside = reading.inside("maintenance");
    var at = Schedule.read(inside, "at");
    var said = inside.text("for");
    var lasts = said.flatMap(Maintenance::time);
    if (said.isPresent() && lasts.isEmpty()) {
      inside.problem(
          inside.place("for"),
          "for is “%s”; say how long it takes, such as 90 minutes or 4 hours, at most %d hours."
              .formatted(said.get(), LONGEST.toHours()));
    }
    if (said.isPresent() != inside.text("at").isPresent()) {
      inside.problem(
          reading.place("maintenance"),
          "maintenance needs both: at says when it begins, as in crontab, and for how long it takes.");
    }
    inside.finish();
    return at.flatMap(begins -> lasts.map(time -> new Maintenance(begins, time)));
  }

  private static Optional<Duration> time(String text) {
    var time = TIME.matcher(text.strip());
    if (!time.matches()) {
      return Optional.empty();
    }
    var number = Long.parseLong(time.group(1));
    var lasts =
        time.group(2).startsWith("hour") ? Duration.ofHours(number) : Duration.ofMinutes(number);
    return Optional.of(lasts).filter(each -> each.isPositive() && each.compareTo(LONGEST) <= 0);
  }
}
