package glenmoor.engine.time;

import glenmoor.store.time.ClockMapper;
import jakarta.inject.Named;
import java.util.Objects;
import java.util.concurrent.ThreadLocalRandom;
import java.util.function.Supplier;
import org.springframework.dao.ConcurrencyFailureException;
import org.springframework.dao.DuplicateKeyException;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Runs a piece of work in one transaction. A deadlock, a certification conflict or a name that
 * another replica took in the same moment is tried again, from the start.
 */
@Named
public final class Transactions {
  private static final int MOST_TRIES = 8;
  private static final long LONGEST_PAUSE_MILLIS = 25;
  private static final double NANOS = 1e9;

  private final TransactionTemplate template;
  private final ClockMapper agenda;
  private final Clock clock;

  public Transactions(PlatformTransactionManager transactions, ClockMapper agenda, Clock clock) {
    template = new TransactionTemplate(transactions);
    this.agenda = agenda;
    this.clock = clock;
  }

  public <T> T run(Supplier<T> work) {
    if (clock instanceof MovableClock movable) {
      movable.follow();
    }
    for (var tries = 1; ; tries++) {
      try {
        return Objects.requireNonNull(
            template.execute(status -> {
              followTheClock();
              return work.get();
            }));
      } catch (ConcurrencyFailureException | DuplicateKeyException again) {
        if (tries == MOST_TRIES) {
          throw again;
        }
        pause(tries);
      }
    }
  }

  /** A little longer each time, and not the same for two who got in each other's way. */
  private static void pause(int tries) {
    try {
      Thread.sleep(ThreadLocalRandom.current().nextLong(LONGEST_PAUSE_MILLIS * tries));
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
    }
  }

  public void run(Runnable work) {
    run(() -> {
      work.run();
      return true;
    });
  }

  /** With a clock that was moved, the record through time has to follow it. */
  private void followTheClock() {
    if (clock.movable()) {
      var now = clock.instant();
      agenda.recordTimesAt(now.getEpochSecond() + now.getNano() / NANOS);
    }
  }
}
