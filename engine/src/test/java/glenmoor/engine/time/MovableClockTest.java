package glenmoor.engine.time;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.engine.EngineTest;
import glenmoor.engine.TestEnvironment;
import glenmoor.store.Database;
import glenmoor.store.time.ClockMapper;
import java.time.Instant;
import java.util.concurrent.atomic.AtomicReference;
import org.junit.jupiter.api.Test;
import org.springframework.transaction.PlatformTransactionManager;

/** The clock of a demo or test. */
class MovableClockTest extends EngineTest {
  @Test
  void it_stands_still_while_the_machine_s_clock_was_set_back() {
    var machine = new AtomicReference<>(Instant.parse("2026-11-23T12:00:00Z"));
    var clock =
        new MovableClock(
            environment.get(ClockMapper.class),
            Database.get(PlatformTransactionManager.class),
            TestEnvironment.MORNING,
            machine::get);
    var before = clock.instant();
    machine.set(machine.get().minusSeconds(3_600));
    assertThat(clock.instant()).isEqualTo(before);
    machine.set(machine.get().plusSeconds(3_610));
    assertThat(clock.instant()).isEqualTo(before.plusSeconds(10));
  }
}
