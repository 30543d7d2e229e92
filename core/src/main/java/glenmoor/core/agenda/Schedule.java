package glenmoor.core.agenda;

import com.cronutils.model.Cron;
import com.cronutils.model.CronType;
import com.cronutils.model.definition.CronDefinitionBuilder;
import com.cronutils.model.time.ExecutionTime;
import com.cronutils.parser.CronParser;
import glenmoor.core.definitions.Reading;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.Optional;

/**
 * When something recurs: minute, hour, day of the month, month and day of the week, as crontab has
 * them (POSIX.1-2017, crontab), in the organisation's zone.
 */
public final class Schedule {
  private static final CronParser PARSER =
      new CronParser(CronDefinitionBuilder.instanceDefinitionFor(CronType.UNIX));

  private final Cron cron;

  private Schedule(Cron cron) {
    this.cron = cron;
  }

  /**
   * @throws IllegalArgumentException if it is no such expression
   */
  public static Schedule of(String expression) {
    return new Schedule(PARSER.parse(expression).validate());
  }

  /** The schedule that a definition gives under a key; what is none is reported at its line. */
  public static Optional<Schedule> read(Reading reading, String key) {
    return reading
        .text(key)
        .flatMap(text -> {
          try {
            return Optional.of(of(text));
          } catch (IllegalArgumentException wrong) {
            reading.problem(
                reading.place(key),
                "%s is “%s”; say minute, hour, day of the month, month and day of the week, such as 30 2 * * * for half past two every night."
                    .formatted(key, text));
            return Optional.empty();
          }
        });
  }

  /** The next moment after another one; nothing where there never is one, such as 30 February. */
  public Optional<Instant> next(Instant after, ZoneId zone) {
    return ExecutionTime.forCron(cron)
        .nextExecution(after.atZone(zone))
        .map(ZonedDateTime::toInstant);
  }

  /** The last moment up to another one, itself included; nothing where there never was one. */
  public Optional<Instant> last(Instant upTo, ZoneId zone) {
    return ExecutionTime.forCron(cron)
        .lastExecution(upTo.plusNanos(1).atZone(zone))
        .map(ZonedDateTime::toInstant);
  }

  @Override
  public boolean equals(Object other) {
    return other instanceof Schedule schedule && schedule.toString().equals(toString());
  }

  @Override
  public int hashCode() {
    return toString().hashCode();
  }

  @Override
  public String toString() {
    return cron.asString();
  }
}
