package glenmoor.core.playbooks;

import static glenmoor.core.SkerryLine.TODAY;
import static glenmoor.core.SkerryLine.una;
import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.lifecycle.EventKind;
import org.junit.jupiter.api.Test;

class RunDayTest {
  private static final RunDay STAYS = new RunDay.Stays();

  @Test
  void a_first_day_that_moves_takes_the_run_with_it() {
    var day = TODAY.plusDays(5);
    assertThat(RunDay.of(EventKind.JOINER, day, una("start", day), TODAY)).isEqualTo(STAYS);
    assertThat(RunDay.of(EventKind.JOINER, day, una("start", TODAY.plusDays(9)), TODAY))
        .isEqualTo(new RunDay.Moves(TODAY.plusDays(9)));
    assertThat(RunDay.of(EventKind.JOINER, day, una("start", TODAY.minusDays(2)), TODAY))
        .isEqualTo(new RunDay.Moves(TODAY));
    assertThat(
            RunDay.of(
                EventKind.JOINER, TODAY.minusDays(3), una("start", TODAY.minusDays(9)), TODAY))
        .isEqualTo(STAYS);
  }

  @Test
  void whoever_has_left_is_welcomed_no_more() {
    var left = una("end", TODAY.minusDays(1));
    for (var kind : new EventKind[] {EventKind.JOINER, EventKind.REHIRE, EventKind.MOVER}) {
      assertThat(RunDay.of(kind, TODAY, left, TODAY)).isInstanceOf(RunDay.Over.class);
    }
  }

  @Test
  void a_leaver_who_stays_after_all_is_not_let_go() {
    var day = TODAY.plusDays(4);
    assertThat(RunDay.of(EventKind.LEAVER, day, una("end", day.minusDays(1)), TODAY))
        .isEqualTo(STAYS);
    assertThat(RunDay.of(EventKind.LEAVER, day, una(), TODAY)).isInstanceOf(RunDay.Over.class);
    assertThat(RunDay.of(EventKind.LEAVER, day, una("end", day.plusDays(9)), TODAY))
        .isEqualTo(new RunDay.Moves(day.plusDays(10)));
  }

  @Test
  void a_day_that_has_come_stays_the_day_until_they_come_back() {
    var day = TODAY.minusDays(10);
    assertThat(RunDay.of(EventKind.LEAVER, day, una("end", TODAY.minusDays(30)), TODAY))
        .isEqualTo(STAYS);
    assertThat(RunDay.of(EventKind.LEAVER, day, una("end", TODAY.plusDays(30)), TODAY))
        .isInstanceOf(RunDay.Over.class);
    assertThat(RunDay.of(EventKind.LEAVER, day, una().absentFrom(day), TODAY)).isEqualTo(STAYS);
    assertThat(RunDay.of(EventKind.LEAVER, day, una().cutOffFrom(day), TODAY)).isEqualTo(STAYS);
  }

  @Test
  void a_leave_that_is_called_off_or_moves_takes_the_run_with_it() {
    var day = TODAY.plusDays(4);
    assertThat(RunDay.of(EventKind.LEAVE_BEGINS, day, una(), TODAY))
        .isInstanceOf(RunDay.Over.class);
    assertThat(RunDay.of(EventKind.LEAVE_BEGINS, day, una("leaveFrom", day.plusDays(1)), TODAY))
        .isEqualTo(new RunDay.Moves(day.plusDays(1)));
    assertThat(RunDay.of(EventKind.LEAVE_ENDS, day, una("leaveTo", day.minusDays(1)), TODAY))
        .isEqualTo(STAYS);
  }
}
