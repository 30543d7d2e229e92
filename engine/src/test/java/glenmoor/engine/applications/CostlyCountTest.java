package glenmoor.engine.applications;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.engine.TestEnvironment;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;

/** What takes long to count is counted seldom, and what takes no time each time. */
class CostlyCountTest {
  private final AtomicInteger counted = new AtomicInteger();

  private CostlyCount<Integer> taking(long millis) {
    return new CostlyCount<>(() -> {
      pause(millis);
      return counted.incrementAndGet();
    });
  }

  private static void pause(long millis) {
    try {
      Thread.sleep(millis);
    } catch (InterruptedException stopped) {
      throw new IllegalStateException(stopped);
    }
  }

  @Test
  void what_takes_long_is_counted_once_for_many_who_ask() {
    var count = taking(200);
    for (var asked = 0; asked < 1_000; asked++) {
      assertThat(count.get()).isOne();
    }
    assertThat(counted).hasValue(1);
  }

  @Test
  void what_takes_no_time_is_fresh() {
    var count = taking(0);
    assertThat(count.get()).isOne();
    TestEnvironment.eventually(() -> count.get() > 1);
  }

  @Test
  void what_is_a_little_old_is_counted_anew_behind_the_back_of_who_asks() {
    var begun = new AtomicInteger();
    var gate = new CountDownLatch(1);
    var count =
        new CostlyCount<>(() -> {
          if (begun.incrementAndGet() == 1) {
            pause(30);
          } else {
            await(gate);
          }
          return counted.incrementAndGet();
        });
    TestEnvironment.eventually(() -> {
      assertThat(count.get()).isOne();
      return begun.get() == 2;
    });
    assertThat(count.get()).as("nobody waits for it").isOne();
    gate.countDown();
    TestEnvironment.eventually(() -> count.get() == 2);
  }

  private static void await(CountDownLatch gate) {
    try {
      gate.await();
    } catch (InterruptedException stopped) {
      throw new IllegalStateException(stopped);
    }
  }
}
