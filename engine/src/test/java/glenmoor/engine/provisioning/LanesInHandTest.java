package glenmoor.engine.provisioning;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import org.junit.jupiter.api.Test;

class LanesInHandTest {
  private final LanesInHand lanes = new LanesInHand();

  private void took(Duration each) {
    for (var i = 0; i < 200; i++) {
      lanes.took(each.toNanos());
    }
  }

  @Test
  void none_is_taken_for_an_application_that_is_held() {
    assertThat(lanes.with(0).missing()).isZero();
  }

  @Test
  void as_many_are_taken_as_are_done_in_a_second() {
    lanes.with(4);
    took(Duration.ofMillis(50));
    assertThat(lanes.missing()).isBetween(4 * 18, 4 * 20);
  }

  @Test
  void quick_ones_have_a_bound_and_slow_ones_always_another_to_go_on_with() {
    lanes.with(4);
    took(Duration.ofNanos(10));
    assertThat(lanes.missing()).isEqualTo(4 * 64);
    took(Duration.ofMinutes(2));
    assertThat(lanes.missing()).isEqualTo(4 * 2);
  }

  @Test
  void no_more_are_taken_while_half_of_enough_is_in_hand() {
    lanes.with(4);
    took(Duration.ofMinutes(2));
    for (var i = 0; i < 5; i++) {
      lanes.taken();
    }
    assertThat(lanes.missing()).isZero();
    lanes.left();
    assertThat(lanes.missing()).isEqualTo(4);
  }

  @Test
  void one_that_does_not_answer_is_asked_with_few() {
    lanes.with(4);
    took(Duration.ofMillis(1));
    lanes.isAway();
    assertThat(lanes.missing()).isEqualTo(4 * 2);
  }

  @Test
  void room_that_is_taken_away_is_missing_until_work_is_done() throws InterruptedException {
    lanes.with(2);
    assertThat(lanes.takeRoom(0)).isTrue();
    assertThat(lanes.takeRoom(0)).isTrue();
    lanes.with(1);
    lanes.giveRoom();
    assertThat(lanes.takeRoom(0)).isFalse();
    lanes.giveRoom();
    assertThat(lanes.takeRoom(0)).isTrue();
  }
}
