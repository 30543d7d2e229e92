package glenmoor.core.usage;

import glenmoor.core.people.WorkerNumber;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.time.ZoneId;
import java.util.Map;
import java.util.Optional;

/**
 * That an account, or one right of it, was used.
 *
 * @param account what it is called in its application; empty where the person is named
 * @param worker the key of the person's worker number; empty where the account is named
 * @param entitlement the key of the right; empty for the account itself
 */
public record Used(String account, String worker, String entitlement, Instant at) {
  /** Clocks of applications may be off by so much. */
  public static final Duration AHEAD = Duration.ofHours(1);

  /** What is told of one use, or what is wrong with it. */
  public sealed interface Read {
    record Good(Used used) implements Read {}

    record Wrong(String sentence) implements Read {}
  }

  /**
   * Reads what an application tells.
   *
   * @param entitlements the keys of its rights, by key and by technical name
   * @param at a moment (RFC 3339), a date and time or a date of the zone; a date alone is its
   *     beginning
   */
  public static Read read(
      String account,
      String worker,
      String entitlement,
      String at,
      Map<String, String> entitlements,
      ZoneId zone,
      Instant now) {
    if (account.isBlank() == worker.isBlank()) {
      return new Read.Wrong("Say whose it is: account or worker, one of them.");
    }
    var person = worker.isBlank() ? Optional.<WorkerNumber>empty() : WorkerNumber.read(worker);
    if (!worker.isBlank() && person.isEmpty()) {
      return new Read.Wrong("“%s” is not %s.".formatted(worker, WorkerNumber.EXPECTED));
    }
    var right = entitlement.isBlank() ? "" : entitlements.get(entitlement.strip());
    if (right == null) {
      return new Read.Wrong("There is no right “%s” in this application.".formatted(entitlement));
    }
    var moment = moment(at.strip(), zone);
    if (moment.isEmpty()) {
      return new Read.Wrong(
          "“%s” is no moment; write it as 2027-03-14T08:15:00Z, or as 2027-03-14.".formatted(at));
    }
    if (moment.get().isAfter(now.plus(AHEAD))) {
      return new Read.Wrong("“%s” is still to come.".formatted(at));
    }
    return new Read.Good(
        new Used(account.strip(), person.map(WorkerNumber::key).orElse(""), right, moment.get()));
  }

  private static Optional<Instant> moment(String text, ZoneId zone) {
    try {
      return Optional.of(OffsetDateTime.parse(text).toInstant());
    } catch (DateTimeException noMoment) {
      try {
        return Optional.of(LocalDateTime.parse(text.replace(' ', 'T')).atZone(zone).toInstant());
      } catch (DateTimeException noTime) {
        return day(text, zone);
      }
    }
  }

  private static Optional<Instant> day(String text, ZoneId zone) {
    try {
      return Optional.of(LocalDate.parse(text).atStartOfDay(zone).toInstant());
    } catch (DateTimeException noDay) {
      return Optional.empty();
    }
  }
}
