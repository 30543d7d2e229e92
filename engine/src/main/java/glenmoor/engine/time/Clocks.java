package glenmoor.engine.time;

import glenmoor.store.time.ClockMapper;
import jakarta.inject.Named;
import java.time.Instant;
import org.springframework.transaction.PlatformTransactionManager;

/** Makes the clock of a service: the real one, or a demo's. */
@Named
public final class Clocks {
  private final ClockMapper mapper;
  private final PlatformTransactionManager transactions;

  public Clocks(ClockMapper mapper, PlatformTransactionManager transactions) {
    this.mapper = mapper;
    this.transactions = transactions;
  }

  public Clock real() {
    return new SystemClock();
  }

  /**
   * A clock that can be moved.
   *
   * @param first when it starts, where it was never used before
   */
  public MovableClock movable(Instant first) {
    return new MovableClock(mapper, transactions, first);
  }
}
