package glenmoor.engine.provisioning;

import glenmoor.engine.Refused;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import org.jspecify.annotations.Nullable;

/**
 * For how long somebody may answer for a difference: it always ends, and is looked at again then.
 */
public final class Terms {
  private static final int USUAL_DAYS = 90;
  private static final int LONGEST_DAYS = 366;

  private Terms() {}

  /**
   * The end of a term, at the midnight after its last day.
   *
   * @param last the last day; null for the usual 90 days
   * @throws Refused if it is not after today, or too far ahead
   */
  public static Instant end(@Nullable LocalDate last, Instant now, ZoneId zone) {
    var today = now.atZone(zone).toLocalDate();
    var day = last == null ? today.plusDays(USUAL_DAYS) : last;
    if (!day.isAfter(today) || day.isAfter(today.plusDays(LONGEST_DAYS))) {
      throw Refused.badInput(
          "until is %s; say a day after today, at most %d days ahead."
              .formatted(day, LONGEST_DAYS));
    }
    return day.plusDays(1).atStartOfDay(zone).toInstant();
  }
}
