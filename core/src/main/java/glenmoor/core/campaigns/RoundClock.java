package glenmoor.core.campaigns;

import java.time.Instant;
import java.time.ZoneId;
import java.time.temporal.ChronoUnit;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * When something of a round falls due. Days are counted from the launch at the same time of day in
 * the organisation's zone.
 *
 * @param launched when it began
 * @param due when it is over
 * @param nudged how many letters were sent: the first says that it has begun, the others are the
 *     campaign's nudges
 * @param escalated whether managers were told
 */
public record RoundClock(Instant launched, Instant due, int nudged, boolean escalated) {
  /** What falls due. */
  public enum Kind {
    NUDGE,
    ESCALATE,
    CLOSE
  }

  /** What falls due, and when. */
  public record Next(Kind kind, Instant at) {}

  /** When a round that begins now is over. */
  public static Instant due(Instant launched, Campaign campaign, ZoneId zone) {
    return day(launched, campaign.days(), zone);
  }

  private static Instant day(Instant launched, int days, ZoneId zone) {
    return launched.atZone(zone).plus(days, ChronoUnit.DAYS).toInstant();
  }

  /** What is next; what would come after the end does not come. */
  public Next next(Campaign campaign, ZoneId zone) {
    var nudge =
        nudged <= campaign.nudges().size()
            ? Optional.of(
                new Next(
                    Kind.NUDGE,
                    nudged == 0
                        ? launched
                        : day(launched, campaign.nudges().get(nudged - 1), zone)))
            : Optional.<Next>empty();
    var escalate =
        escalated || campaign.escalateAfter() == 0
            ? Optional.<Next>empty()
            : Optional.of(new Next(Kind.ESCALATE, day(launched, campaign.escalateAfter(), zone)));
    return Stream.of(nudge, escalate, Optional.of(new Next(Kind.CLOSE, due)))
        .flatMap(Optional::stream)
        .filter(each -> each.kind() == Kind.CLOSE || each.at().isBefore(due))
        .min((one, other) -> one.at().compareTo(other.at()))
        .orElseThrow();
  }
}
