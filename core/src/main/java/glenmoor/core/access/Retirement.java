package glenmoor.core.access;

import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.Optional;
import org.jspecify.annotations.NullMarked;
import org.jspecify.annotations.Nullable;

/**
 * That a package is given to nobody any more.
 *
 * @param lastDay the last day on which those who have it keep it; null where they keep it as long
 *     as they would have
 */
@NullMarked
public record Retirement(@Nullable LocalDate lastDay) {
  /** What can be written, as an error names it. */
  public static final String EXAMPLES = "stay, or until 2027-06-30";

  private static final String UNTIL = "until ";

  static Optional<Retirement> of(String text) {
    if (text.equals("stay")) {
      return Optional.of(new Retirement(null));
    }
    try {
      return text.startsWith(UNTIL)
          ? Optional.of(new Retirement(LocalDate.parse(text.substring(UNTIL.length()))))
          : Optional.empty();
    } catch (DateTimeException noDay) {
      return Optional.empty();
    }
  }

  /** When it is over for those who have it; nothing where they keep it. */
  public Optional<Instant> end(ZoneId zone) {
    return Optional.ofNullable(lastDay).map(day -> day.plusDays(1).atStartOfDay(zone).toInstant());
  }

  /** The same as it is written in a definition. */
  public String written() {
    return lastDay == null ? "stay" : UNTIL + lastDay;
  }
}
