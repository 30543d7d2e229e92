package glenmoor.core.provisioning;

import static glenmoor.core.SkerryLine.NOW;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.provisioning.OperationState.CannotHappen;
import glenmoor.core.provisioning.OperationState.Confirmed;
import glenmoor.core.provisioning.OperationState.Fault;
import glenmoor.core.provisioning.OperationState.Happening;
import glenmoor.core.provisioning.OperationState.Patience;
import glenmoor.core.provisioning.OperationState.Waiting;
import java.time.Duration;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class OperationStateTest {
  private static final Patience PATIENCE =
      new Patience(Duration.ofSeconds(2), Duration.ofSeconds(60), 4);
  private static final OperationState NEW = new Waiting(0, NOW, "");

  private static OperationState tried(OperationState state, Outcome outcome) {
    return state.after(new Happening.Tried(outcome, NOW, 1), PATIENCE);
  }

  @Test
  void a_read_back_confirms() {
    assertThat(tried(NEW, new Outcome.Confirmed("id", ""))).isEqualTo(new Confirmed(1, NOW, ""));
  }

  @Test
  void a_refusal_is_a_fault_at_once() {
    assertThat(tried(NEW, new Outcome.Refused("no seat"))).isEqualTo(new Fault(1, NOW, "no seat"));
  }

  @Test
  void not_now_waits_twice_as_long_each_time_and_gives_up_in_the_end() {
    var notNow = new Outcome.NotNow("busy", Optional.empty());
    var once = (Waiting) tried(NEW, notNow);
    var twice = (Waiting) tried(once, notNow);
    var thrice = (Waiting) tried(twice, notNow);
    assertThat(once.notBefore()).isEqualTo(NOW.plusSeconds(2));
    assertThat(twice.notBefore()).isEqualTo(NOW.plusSeconds(4));
    assertThat(thrice.notBefore()).isEqualTo(NOW.plusSeconds(8));
    assertThat(tried(thrice, notNow)).isEqualTo(new Fault(4, NOW, "busy (tried 4 times)"));
  }

  @Test
  void what_the_application_asks_for_is_what_it_gets() {
    var waiting =
        (Waiting) tried(NEW, new Outcome.NotNow("busy", Optional.of(Duration.ofMinutes(7))));
    assertThat(waiting.notBefore()).isEqualTo(NOW.plus(Duration.ofMinutes(7)));
  }

  @Test
  void an_application_that_is_away_does_not_use_up_tries() {
    var state = NEW;
    for (var i = 0; i < 100; i++) {
      state = tried(state, new Outcome.Unreachable("away"));
    }
    assertThat(((Waiting) state).attempts()).isZero();
  }

  @Test
  void pauses_are_spread_and_have_a_longest() {
    assertThat(OperationState.pause(1, 0, PATIENCE)).isEqualTo(Duration.ofSeconds(1));
    assertThat(OperationState.pause(1, 1, PATIENCE)).isEqualTo(Duration.ofSeconds(2));
    assertThat(OperationState.pause(60, 1, PATIENCE)).isEqualTo(Duration.ofSeconds(60));
  }

  @Test
  void a_fault_can_be_tried_again_done_by_hand_or_given_up() {
    var fault = new Fault(4, NOW, "no seat");
    assertThat(fault.after(new Happening.AskedAgain(NOW), PATIENCE).word()).isEqualTo("waiting");
    assertThat(fault.after(new Happening.DoneByHand(NOW, "made it"), PATIENCE).word())
        .isEqualTo("by-hand");
    assertThat(fault.after(new Happening.LetGo(NOW, "not needed"), PATIENCE).word())
        .isEqualTo("given-up");
  }

  @Test
  void what_is_settled_stays_settled() {
    var confirmed = new Confirmed(1, NOW, "");
    assertThatThrownBy(() -> confirmed.after(new Happening.AskedAgain(NOW), PATIENCE))
        .isInstanceOf(CannotHappen.class)
        .hasMessageContaining("confirmed");
    assertThatThrownBy(() -> NEW.after(new Happening.LetGo(NOW, ""), PATIENCE))
        .isInstanceOf(CannotHappen.class);
  }
}
