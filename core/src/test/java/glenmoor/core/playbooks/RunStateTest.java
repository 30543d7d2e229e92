package glenmoor.core.playbooks;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.playbooks.RunState.Done;
import glenmoor.core.playbooks.RunState.Open;
import glenmoor.core.playbooks.RunState.Outcome;
import glenmoor.core.playbooks.RunState.StepState;
import glenmoor.core.playbooks.RunState.Stopped;
import glenmoor.core.playbooks.RunState.Timing;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class RunStateTest {
  private static final ZoneId ZONE = ZoneId.of("Europe/London");
  private static final LocalDate DAY = LocalDate.parse("2027-05-20");
  private static final Instant KNOWN = Instant.parse("2027-03-01T06:00:00Z");
  private static final Timing AT_ONCE = new Timing(Optional.empty(), false);
  private static final Timing WEEK_BEFORE = on(-7, false);

  private static Timing on(int days, boolean goesOn) {
    return new Timing(Optional.of(new When(days, LocalTime.MIDNIGHT)), goesOn);
  }

  private static RunState.Moved after(Open open, Outcome outcome, Timing... steps) {
    return RunState.after(open, outcome, List.of(steps), DAY, ZONE, open.due());
  }

  private static Open begun(Timing... steps) {
    return (Open) RunState.begin(List.of(steps), DAY, ZONE, KNOWN);
  }

  private static Instant midnight(String day) {
    return LocalDate.parse(day).atStartOfDay(ZONE).toInstant();
  }

  @Test
  void a_first_step_is_done_at_its_time_or_on_the_day_and_not_before() {
    assertThat(begun(WEEK_BEFORE).due()).isEqualTo(midnight("2027-05-13"));
    assertThat(begun(AT_ONCE).due()).isEqualTo(midnight("2027-05-20"));
    assertThat(begun(on(-200, false)).due()).as("not in the past").isEqualTo(KNOWN);
  }

  @Test
  void what_waits_began_when_it_was_due_however_early_it_was_reached_and_often_it_was_looked_at() {
    for (var first : List.of(WEEK_BEFORE, AT_ONCE)) {
      var steps = List.of(first);
      var open = begun(first);
      var due = open.due();
      for (var look = 1; look < 4; look++) {
        assertThat(RunState.begins(open, steps, DAY, ZONE)).isEqualTo(due);
        open =
            (Open) after(open, new Outcome.NotYet(due.plusSeconds(look), "waits"), first).state();
        assertThat(open.reached()).isEqualTo(KNOWN);
        assertThat(open.tries()).isEqualTo(look);
      }
    }
  }

  @Test
  void a_step_behind_others_begins_when_they_are_done_and_not_before_its_time() {
    var early = after(begun(WEEK_BEFORE), new Outcome.Done("made"), WEEK_BEFORE, on(10, false));
    assertThat(early.step()).isEqualTo(StepState.DONE);
    var second = (Open) early.state();
    assertThat(second.step()).isEqualTo(1);
    assertThat(second.reached()).isEqualTo(midnight("2027-05-13"));
    assertThat(second.due()).isEqualTo(midnight("2027-05-30"));
    assertThat(RunState.begins(second, List.of(WEEK_BEFORE, on(10, false)), DAY, ZONE))
        .isEqualTo(second.due());
    assertThat(RunState.begins(second, List.of(WEEK_BEFORE, AT_ONCE), DAY, ZONE))
        .isEqualTo(second.reached());
  }

  @Test
  void a_failure_stops_the_run_or_goes_on_and_the_last_step_ends_it() {
    var failed = new Outcome.Failed("nobody there");
    assertThat(after(begun(WEEK_BEFORE), failed, WEEK_BEFORE).state())
        .isEqualTo(new Stopped(0, KNOWN, "nobody there"));
    var forgiven = on(-7, true);
    assertThat(after(begun(forgiven), failed, forgiven).state())
        .isEqualTo(new Done(midnight("2027-05-13")));
  }

  @Test
  void another_day_moves_what_is_to_come() {
    var later = LocalDate.parse("2027-06-20");
    var moved = (Open) RunState.redated(begun(WEEK_BEFORE), List.of(WEEK_BEFORE), later, ZONE);
    assertThat(moved.due()).isEqualTo(midnight("2027-06-13"));
    assertThat(RunState.begins(moved, List.of(WEEK_BEFORE), later, ZONE)).isEqualTo(moved.due());
  }
}
