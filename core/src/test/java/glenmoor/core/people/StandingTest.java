package glenmoor.core.people;

import static glenmoor.core.SkerryLine.TODAY;
import static glenmoor.core.SkerryLine.una;
import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;

class StandingTest {
  @Test
  void somebody_is_expected_until_the_first_day_and_active_from_it() {
    var una = una("start", TODAY);
    assertThat(Standing.of(una, TODAY.minusDays(1))).isEqualTo(Standing.EXPECTED);
    assertThat(Standing.of(una, TODAY)).isEqualTo(Standing.ACTIVE);
  }

  @Test
  void the_last_day_is_still_a_day_of_work() {
    var una = una("end", TODAY);
    assertThat(Standing.of(una, TODAY)).isEqualTo(Standing.ACTIVE);
    assertThat(Standing.of(una, TODAY.plusDays(1))).isEqualTo(Standing.LEFT);
  }

  @Test
  void leave_counts_its_first_and_last_day() {
    var una = una("leaveFrom", TODAY, "leaveTo", TODAY.plusDays(10));
    assertThat(Standing.of(una, TODAY.minusDays(1))).isEqualTo(Standing.ACTIVE);
    assertThat(Standing.of(una, TODAY)).isEqualTo(Standing.ON_LEAVE);
    assertThat(Standing.of(una, TODAY.plusDays(10))).isEqualTo(Standing.ON_LEAVE);
    assertThat(Standing.of(una, TODAY.plusDays(11))).isEqualTo(Standing.ACTIVE);
  }

  @Test
  void an_open_leave_goes_on() {
    assertThat(Standing.of(una("leaveFrom", TODAY), TODAY.plusYears(1)))
        .isEqualTo(Standing.ON_LEAVE);
  }

  @Test
  void whoever_is_no_longer_in_a_full_feed_has_left() {
    var una = una().absentFrom(TODAY);
    assertThat(Standing.of(una, TODAY.minusDays(1))).isEqualTo(Standing.ACTIVE);
    assertThat(Standing.of(una, TODAY)).isEqualTo(Standing.LEFT);
  }

  @Test
  void the_next_change_is_the_nearest_date_ahead() {
    var una = una("leaveFrom", TODAY.plusDays(5), "leaveTo", TODAY.plusDays(9), "end", TODAY);
    assertThat(Standing.nextChange(una, TODAY)).contains(TODAY.plusDays(1));
    assertThat(Standing.nextChange(una, TODAY.plusDays(5))).contains(TODAY.plusDays(10));
    assertThat(Standing.nextChange(una, TODAY.plusDays(10))).isEmpty();
  }
}
