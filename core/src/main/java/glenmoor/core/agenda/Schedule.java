package glenmoor.core.agenda;

import com.cronutils.model.Cron;
import com.cronutils.model.CronType;
import com.cronutils.model.definition.CronDefinitionBuilder;
import com.cronutils.model.time.ExecutionTime;
import com.cronutils.parser.CronParser;
import glenmoor.core.definitions.Reading;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.ZonedDateTime;
import java.time.zone.ZoneOffsetTransition;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * When something recurs: minute, hour, day of the month, month and day of the week, as crontab has
 * them (POSIX.1-2017, crontab), in the organisation's zone.
 */
public final class Schedule {
  private static final CronParser PARSER =
      new CronParser(CronDefinitionBuilder.instanceDefinitionFor(CronType.UNIX));

  /** No zone has put its clocks forward by more, but for a change of its calendar's day. */
  private static final Duration LONGEST_GAP = Duration.ofHours(3);

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

  /**
   * The next moment after another one; nothing where there never is one, such as 30 February. A
   * time of day that the clocks pass over in spring comes as much later as they are put forward.
   */
  public Optional<Instant> next(Instant after, ZoneId zone) {
    var usual =
        ExecutionTime.forCron(cron).nextExecution(after.atZone(zone)).map(ZonedDateTime::toInstant);
    var changes = zone.getRules();
    var passedOver =
        Stream.iterate(
                changes.nextTransition(after.minus(LONGEST_GAP)),
                Objects::nonNull,
                change -> changes.nextTransition(change.getInstant()))
            .takeWhile(change -> usual.filter(change.getInstant()::isBefore).isPresent())
            .filter(ZoneOffsetTransition::isGap)
            .flatMap(this::passedOver)
            .filter(at -> at.isAfter(after))
            .findFirst();
    return Stream.of(usual, passedOver).flatMap(Optional::stream).min(Instant::compareTo);
  }

  /** The last moment up to another one, itself included; nothing where there never was one. */
  public Optional<Instant> last(Instant upTo, ZoneId zone) {
    var usual =
        ExecutionTime.forCron(cron)
            .lastExecution(upTo.plusNanos(1).atZone(zone))
            .map(ZonedDateTime::toInstant);
    var passedOver =
        Stream.ofNullable(zone.getRules().previousTransition(upTo.plusNanos(1)))
            .filter(ZoneOffsetTransition::isGap)
            .flatMap(this::passedOver)
            .filter(at -> !at.isAfter(upTo))
            .max(Instant::compareTo);
    return Stream.of(usual, passedOver).flatMap(Optional::stream).max(Instant::compareTo);
  }

  /** What falls into an hour that there is not, as much later as the clocks are put forward. */
  private Stream<Instant> passedOver(ZoneOffsetTransition gap) {
    var execution = ExecutionTime.forCron(cron);
    var begins = gap.getDateTimeBefore().atZone(ZoneOffset.UTC);
    var ends = gap.getDateTimeAfter().atZone(ZoneOffset.UTC);
    return Stream.iterate(
            execution.nextExecution(begins.minusNanos(1)),
            Optional::isPresent,
            at -> execution.nextExecution(at.orElseThrow()))
        .map(Optional::orElseThrow)
        .takeWhile(at -> at.isBefore(ends))
        .map(at -> gap.getInstant().plus(Duration.between(begins, at)));
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
