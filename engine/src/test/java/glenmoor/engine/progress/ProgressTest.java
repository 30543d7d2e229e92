package glenmoor.engine.progress;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.engine.House;
import glenmoor.engine.InTheHouse;
import glenmoor.engine.Refused;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CountDownLatch;
import org.junit.jupiter.api.Test;

/** Long work: how far it is, and what it came to. */
class ProgressTest extends InTheHouse {
  @Test
  void it_can_be_left_and_come_back_to() {
    var halfway = new CountDownLatch(1);
    var id =
        house.progress.start(
            "counting crates",
            House.ISA,
            teller -> {
              teller.at(5, 10, "5 crates counted");
              try {
                halfway.await();
              } catch (InterruptedException stopped) {
                throw new IllegalStateException(stopped);
              }
              return Map.of("crates", 10);
            });
    House.eventually(() -> house.progress.of(id, House.ISA).done() == 5);
    assertThat(house.progress.of(id, House.ISA).sentence()).isEqualTo("5 crates counted");
    assertThat(house.progress.of(id, House.ISA).endedAt()).isNull();
    halfway.countDown();
    var ended = house.ended(id);
    assertThat(ended.state()).isEqualTo("done");
    assertThat(ended.result()).isEqualTo("{\"crates\":10}");
  }

  @Test
  void what_is_refused_says_the_sentence() {
    var ended =
        house.ended(
            house.progress.start(
                "x",
                House.ISA,
                teller -> {
                  throw Refused.badInput("The crate is shut.");
                }));
    assertThat(ended.state()).isEqualTo("refused");
    assertThat(ended.sentence()).isEqualTo("The crate is shut.");
  }

  @Test
  void what_fails_is_not_left_running() {
    var ended =
        house.ended(
            house.progress.start(
                "x",
                House.ISA,
                teller -> {
                  throw new IllegalStateException("the floor gave way");
                }));
    assertThat(ended.state()).isEqualTo("failed");
    assertThat(ended.sentence()).contains("under work");
  }

  @Test
  void work_that_goes_on_is_not_taken_for_dead() {
    var end = new CountDownLatch(1);
    var id =
        house.progress.start(
            "x",
            House.ISA,
            teller -> {
              try {
                end.await();
              } catch (InterruptedException stopped) {
                throw new IllegalStateException(stopped);
              }
              return Map.of();
            });
    house.progress.closeDead();
    assertThat(house.progress.of(id, House.ISA).state()).isEqualTo("running");
    end.countDown();
    assertThat(house.ended(id).state()).isEqualTo("done");
  }

  @Test
  void it_is_shown_to_who_began_it_and_to_those_who_see_everything() {
    var rona = new Actor("rona", "Rona Bell", null, List.of(Assignment.of(Duty.PEOPLE_DESK)));
    var other = new Actor("bo", "Bo Tarn", "W-2", List.of(Assignment.of(Duty.PEOPLE_DESK)));
    var auditor = new Actor("eva", "Eva Holm", null, List.of(Assignment.of(Duty.AUDITOR)));
    var id = house.progress.start("counting crates", rona, teller -> Map.of());
    house.ended(id);
    assertThat(house.progress.of(id, rona).state()).isEqualTo("done");
    assertThat(house.progress.of(id, auditor).state()).isEqualTo("done");
    assertThatThrownBy(() -> house.progress.of(id, other)).hasMessageContaining("You have no work");
  }

  @Test
  void there_is_no_progress_of_nothing() {
    assertThatThrownBy(() -> house.progress.of(12_345_678, House.ISA))
        .hasMessageContaining("12345678");
  }
}
