package glenmoor.engine.jobs;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CountDownLatch;
import org.junit.jupiter.api.Test;

/** Long work: how far it is, and what it came to. */
class JobsTest extends EngineTest {
  @Test
  void it_can_be_left_and_come_back_to() {
    var halfway = new CountDownLatch(1);
    var id =
        environment.jobs.start(
            "counting crates",
            TestEnvironment.ISA,
            reporter -> {
              reporter.at(5, 10, "5 crates counted");
              try {
                halfway.await();
              } catch (InterruptedException stopped) {
                throw new IllegalStateException(stopped);
              }
              return Map.of("crates", 10);
            });
    TestEnvironment.eventually(() -> environment.jobs.of(id, TestEnvironment.ISA).done() == 5);
    assertThat(environment.jobs.of(id, TestEnvironment.ISA).sentence())
        .isEqualTo("5 crates counted");
    assertThat(environment.jobs.of(id, TestEnvironment.ISA).endedAt()).isNull();
    halfway.countDown();
    var ended = environment.ended(id);
    assertThat(ended.state()).isEqualTo("done");
    assertThat(ended.result()).isEqualTo("{\"crates\":10}");
  }

  @Test
  void what_is_refused_says_the_sentence() {
    var ended =
        environment.ended(
            environment.jobs.start(
                "x",
                TestEnvironment.ISA,
                reporter -> {
                  throw Refused.badInput("The crate is shut.");
                }));
    assertThat(ended.state()).isEqualTo("refused");
    assertThat(ended.sentence()).isEqualTo("The crate is shut.");
  }

  @Test
  void what_fails_is_not_left_running() {
    var ended =
        environment.ended(
            environment.jobs.start(
                "x",
                TestEnvironment.ISA,
                reporter -> {
                  throw new IllegalStateException("the floor gave way");
                }));
    assertThat(ended.state()).isEqualTo("failed");
    assertThat(ended.sentence()).contains("under work");
  }

  @Test
  void work_that_goes_on_is_not_taken_for_dead() {
    var end = new CountDownLatch(1);
    var id =
        environment.jobs.start(
            "x",
            TestEnvironment.ISA,
            reporter -> {
              try {
                end.await();
              } catch (InterruptedException stopped) {
                throw new IllegalStateException(stopped);
              }
              return Map.of();
            });
    environment.jobs.closeDead();
    assertThat(environment.jobs.of(id, TestEnvironment.ISA).state()).isEqualTo("running");
    end.countDown();
    assertThat(environment.ended(id).state()).isEqualTo("done");
  }

  @Test
  void it_is_shown_to_who_began_it_and_to_those_who_see_everything() {
    var rona = new Actor("rona", "Rona Bell", null, List.of(Assignment.of(Duty.PEOPLE_DESK)));
    var other = new Actor("bo", "Bo Tarn", "W-2", List.of(Assignment.of(Duty.PEOPLE_DESK)));
    var auditor = new Actor("eva", "Eva Holm", null, List.of(Assignment.of(Duty.AUDITOR)));
    var id = environment.jobs.start("counting crates", rona, reporter -> Map.of());
    environment.ended(id);
    assertThat(environment.jobs.of(id, rona).state()).isEqualTo("done");
    assertThat(environment.jobs.of(id, auditor).state()).isEqualTo("done");
    assertThatThrownBy(() -> environment.jobs.of(id, other))
        .hasMessageContaining("You have no work");
  }

  @Test
  void there_is_no_progress_of_nothing() {
    assertThatThrownBy(() -> environment.jobs.of(12_345_678, TestEnvironment.ISA))
        .hasMessageContaining("12345678");
  }
}
