package glenmoor.core.agenda;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.time.ZoneId;
import org.junit.jupiter.api.Test;

class ScheduleTest {
  private static final ZoneId FAROE = ZoneId.of("Atlantic/Faroe");

  private static Instant next(String schedule, String after) {
    return Schedule.of(schedule).next(Instant.parse(after), FAROE).orElseThrow();
  }

  @Test
  void it_names_a_time_of_day_of_the_organisations_zone() {
    assertThat(next("30 2 * * *", "2027-03-01T06:00:00Z")).isEqualTo("2027-03-02T02:30:00Z");
    assertThat(next("30 2 * * *", "2027-07-01T06:00:00Z")).isEqualTo("2027-07-02T01:30:00Z");
  }

  @Test
  void a_night_that_is_an_hour_shorter_is_not_left_out() {
    assertThat(next("30 1 * * *", "2027-03-28T00:00:00Z")).isAfter("2027-03-28T00:00:00Z");
  }

  @Test
  void a_day_that_never_comes_is_nothing() {
    assertThat(Schedule.of("0 0 30 2 *").next(Instant.parse("2027-03-01T06:00:00Z"), FAROE))
        .isEmpty();
  }

  @Test
  void two_that_say_the_same_are_the_same() {
    assertThat(Schedule.of("30 2 * * *")).isEqualTo(Schedule.of("30  2 * * *"));
  }
}
