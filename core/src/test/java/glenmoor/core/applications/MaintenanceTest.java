package glenmoor.core.applications;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.agenda.Schedule;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class MaintenanceTest {
  private static final ZoneId FAROE = ZoneId.of("Atlantic/Faroe");

  /** Four hours from two on Saturday mornings; 6 March 2027 is one. */
  private static final Maintenance SATURDAYS =
      new Maintenance(Schedule.of("0 2 * * 6"), Duration.ofHours(4));

  private static Optional<Instant> until(String now) {
    return SATURDAYS.until(Instant.parse(now), FAROE);
  }

  @Test
  void it_begins_on_the_minute_and_ends_on_the_minute() {
    assertThat(until("2027-03-06T01:59:59.999Z")).isEmpty();
    assertThat(until("2027-03-06T02:00:00Z")).contains(Instant.parse("2027-03-06T06:00:00Z"));
    assertThat(until("2027-03-06T05:59:59.999Z")).isPresent();
    assertThat(until("2027-03-06T06:00:00Z")).isEmpty();
  }

  @Test
  void other_days_are_free() {
    assertThat(until("2027-03-05T03:00:00Z")).isEmpty();
    assertThat(until("2027-03-07T03:00:00Z")).isEmpty();
  }

  @Test
  void it_follows_the_organisations_clock() {
    assertThat(until("2027-07-03T01:00:00Z")).contains(Instant.parse("2027-07-03T05:00:00Z"));
  }
}
