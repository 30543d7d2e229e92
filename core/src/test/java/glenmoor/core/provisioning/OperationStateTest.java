package glenmoor.core.provisioning;

import static glenmoor.core.SkerryLine.NOW;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.provisioning.OperationState.CannotHappen;
import glenmoor.core.provisioning.OperationState.Confirmed;
import glenmoor.core.provisioning.OperationState.Fault;
import glenmoor.core.provisioning.OperationState.RetryPolicy;
import glenmoor.core.provisioning.OperationState.Superseded;
import glenmoor.core.provisioning.OperationState.Transition;
import glenmoor.core.provisioning.OperationState.Waiting;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class OperationStateTest {
  private static final RetryPolicy RETRY_POLICY =
      new RetryPolicy(Duration.ofSeconds(2), Duration.ofSeconds(60), 4);
  private static final OperationState NEW = new Waiting(0, NOW, "");

  private static OperationState tried(OperationState state, Outcome outcome) {
    return state.after(
        new Transition.Tried(new ProvisioningCommand.Enable(), outcome, NOW, 1), RETRY_POLICY);
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
  void not_now_waits_twice_as_long_each_time_and_never_gives_up() {
    var notNow = new Outcome.NotNow("busy", Optional.empty());
    var once = (Waiting) tried(NEW, notNow);
    var twice = (Waiting) tried(once, notNow);
    var thrice = (Waiting) tried(twice, notNow);
    assertThat(once.notBefore()).isEqualTo(NOW.plusSeconds(2));
    assertThat(twice.notBefore()).isEqualTo(NOW.plusSeconds(4));
    assertThat(thrice.notBefore()).isEqualTo(NOW.plusSeconds(8));
    OperationState state = thrice;
    for (var i = 0; i < 100; i++) {
      state = tried(state, notNow);
    }
    assertThat(((Waiting) state).notBefore()).isEqualTo(NOW.plusSeconds(60));
  }

  @Test
  void what_cannot_be_proved_is_a_fault_in_the_end() {
    OperationState state = NEW;
    for (var i = 0; i < 3; i++) {
      state = tried(state, new Outcome.Unproven("read back unchanged"));
      assertThat(state.word()).isEqualTo("waiting");
    }
    assertThat(tried(state, new Outcome.Unproven("read back unchanged")))
        .isEqualTo(new Fault(4, NOW, "read back unchanged (tried 4 times)"));
  }

  @Test
  void a_wait_asked_for_is_at_least_a_second_and_at_most_an_hour() {
    for (var asked : List.of(Duration.ZERO, Duration.ofDays(-9))) {
      var waiting = (Waiting) tried(NEW, new Outcome.NotNow("busy", Optional.of(asked)));
      assertThat(waiting.notBefore()).isEqualTo(NOW.plusSeconds(1));
    }
    var century =
        (Waiting) tried(NEW, new Outcome.NotNow("busy", Optional.of(Duration.ofDays(36_500))));
    assertThat(century.notBefore()).isEqualTo(NOW.plusSeconds(3_600));
  }

  @Test
  void a_door_shut_to_glenmoor_itself_is_no_operations_fault() {
    for (var outcome :
        List.of(new Outcome.WrongCredentials("401"), new Outcome.WrongSettings("no such base"))) {
      var state = NEW;
      for (var i = 0; i < 100; i++) {
        state = tried(state, outcome);
      }
      assertThat(((Waiting) state).attempts()).isZero();
    }
  }

  @Test
  void an_account_that_is_gone_needs_nothing_taken_and_everything_given_anew() {
    var gone = new Outcome.Gone("no user carries W-1");
    for (var taking :
        List.of(
            new ProvisioningCommand.Disable(),
            new ProvisioningCommand.Delete(),
            new ProvisioningCommand.Remove("a/b", "b", "group"))) {
      assertThat(NEW.after(new Transition.Tried(taking, gone, NOW, 1), RETRY_POLICY).word())
          .isEqualTo("confirmed");
    }
    for (var giving :
        List.of(
            new ProvisioningCommand.Enable(), new ProvisioningCommand.Add("a/b", "b", "group"))) {
      assertThat(NEW.after(new Transition.Tried(giving, gone, NOW, 1), RETRY_POLICY).word())
          .isEqualTo("superseded");
    }
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
    assertThat(OperationState.pause(1, 0, RETRY_POLICY)).isEqualTo(Duration.ofSeconds(1));
    assertThat(OperationState.pause(1, 1, RETRY_POLICY)).isEqualTo(Duration.ofSeconds(2));
    assertThat(OperationState.pause(60, 1, RETRY_POLICY)).isEqualTo(Duration.ofSeconds(60));
  }

  @Test
  void a_fault_can_be_tried_again_done_by_hand_or_given_up() {
    var fault = new Fault(4, NOW, "no seat");
    assertThat(fault.after(new Transition.AskedAgain(NOW, "isa"), RETRY_POLICY))
        .as("the old command is never sent again")
        .isEqualTo(new Superseded(NOW, 0, "planned anew, asked for by isa"));
    assertThat(fault.after(new Transition.Overtaken(NOW, 9), RETRY_POLICY).word())
        .isEqualTo("superseded");
    assertThat(fault.after(new Transition.DoneByHand(NOW, "made it"), RETRY_POLICY).word())
        .isEqualTo("by-hand");
    assertThat(fault.after(new Transition.LetGo(NOW, "not needed"), RETRY_POLICY).word())
        .isEqualTo("given-up");
  }

  @Test
  void what_is_settled_stays_settled() {
    var confirmed = new Confirmed(1, NOW, "");
    assertThatThrownBy(() -> confirmed.after(new Transition.AskedAgain(NOW, "isa"), RETRY_POLICY))
        .isInstanceOf(CannotHappen.class)
        .hasMessageContaining("confirmed");
    assertThatThrownBy(() -> NEW.after(new Transition.LetGo(NOW, ""), RETRY_POLICY))
        .isInstanceOf(CannotHappen.class);
  }
}
