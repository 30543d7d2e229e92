package glenmoor.core.agenda;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Days by the calendar of the organisation, around the nights on which clocks are changed. */
class CalendarDaysTest {
  /** Clocks go from 01:00 to 02:00 on 28 March 2027, and from 02:00 to 01:00 on 31 October. */
  private static final ZoneId ZONE = ZoneId.of("Atlantic/Faroe");

  private static final Instant MORNING = Instant.parse("2027-03-01T06:00:00Z");

  @Test
  void a_span_of_days_ends_at_the_time_of_day_at_which_it_began() {
    var end = Instant.parse("2027-05-31T05:00:00Z");
    assertThat(CalendarDays.after(MORNING, 91, ZONE)).isEqualTo(end);
    assertThat(CalendarDays.after(MORNING, Duration.ofDays(91), ZONE)).isEqualTo(end);
    assertThat(CalendarDays.between(MORNING, end, ZONE)).isEqualTo(91);
    assertThat(CalendarDays.between(MORNING, end.plusSeconds(1), ZONE)).isEqualTo(92);
    assertThat(CalendarDays.between(MORNING, end.minusSeconds(1), ZONE)).isEqualTo(91);
  }

  @Test
  void there_and_back_is_the_same_number_of_days_all_year() {
    for (var start = MORNING;
        start.isBefore(MORNING.plus(Duration.ofDays(366)));
        start = start.plus(Duration.ofHours(7))) {
      for (var days : List.of(1L, 30L, 90L, 245L)) {
        assertThat(CalendarDays.between(start, CalendarDays.after(start, days, ZONE), ZONE))
            .as("%d days from %s", days, start)
            .isEqualTo(days);
      }
    }
  }

  @Test
  void what_falls_into_the_hour_that_there_is_not_comes_an_hour_later() {
    var schedule = Schedule.of("30 1 * * *");
    var night = Instant.parse("2027-03-28T01:30:00Z");
    assertThat(schedule.next(Instant.parse("2027-03-27T12:00:00Z"), ZONE)).contains(night);
    assertThat(schedule.next(night.minusSeconds(60), ZONE)).contains(night);
    assertThat(schedule.next(night, ZONE)).contains(Instant.parse("2027-03-29T00:30:00Z"));
    assertThat(schedule.last(night, ZONE)).contains(night);
    assertThat(schedule.last(night.minusSeconds(1), ZONE))
        .contains(Instant.parse("2027-03-27T01:30:00Z"));
  }

  @Test
  void a_nightly_schedule_comes_once_a_night_all_year() {
    for (var expression : List.of("30 1 * * *", "0 1 * * *", "59 0 * * *", "0 2 * * *")) {
      var schedule = Schedule.of(expression);
      var at = Instant.parse("2026-12-31T12:00:00Z");
      var times = 0;
      while (at.isBefore(Instant.parse("2027-12-31T12:00:00Z"))) {
        var next = schedule.next(at, ZONE).orElseThrow();
        assertThat(next).isAfter(at);
        assertThat(schedule.last(next, ZONE)).contains(next);
        at = next;
        times++;
      }
      assertThat(times).as(expression).isEqualTo(366);
    }
  }
}
