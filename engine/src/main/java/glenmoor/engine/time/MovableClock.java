package glenmoor.engine.time;

import glenmoor.store.time.ClockMapper;
import glenmoor.store.time.ClockMapper.ClockRow;
import java.time.Duration;
import java.time.Instant;
import java.time.InstantSource;
import java.time.temporal.ChronoUnit;
import org.jspecify.annotations.Nullable;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * The clock of a demo or test: the system's with an offset that is kept in the database, so that
 * all services on it read the same time, and that grows when the clock is moved. Where no service
 * went by it for a while, the next one goes on from where it was left.
 *
 * <p>It never runs backwards: not after a kill, not with two services, not where the system's clock
 * is set back. What is read is never beyond what the database was told might be read.
 */
public final class MovableClock implements Clock {
  /** A service that went by it within this time is still there, or was killed just now. */
  private static final Duration ALIVE = Duration.ofSeconds(20);

  private static final Duration PROMISED = Duration.ofSeconds(5);
  private static final Duration SOON = Duration.ofSeconds(1);

  private final ClockMapper agenda;
  private final TransactionTemplate own;
  private final InstantSource system;
  private volatile Instant promised = Instant.EPOCH;
  private long offsetMicros;
  private Instant last;

  public MovableClock(ClockMapper agenda, PlatformTransactionManager transactions, Instant first) {
    this(agenda, transactions, first, InstantSource.system());
  }

  /**
   * @param system the clock of the machine, which somebody may set back
   */
  MovableClock(
      ClockMapper agenda,
      PlatformTransactionManager transactions,
      Instant first,
      InstantSource system) {
    this.agenda = agenda;
    this.system = system;
    own = new TransactionTemplate(transactions);
    own.setPropagationBehavior(TransactionTemplate.PROPAGATION_REQUIRES_NEW);
    last = Instant.EPOCH;
    own.executeWithoutResult(status -> begin(first));
  }

  private void begin(Instant first) {
    var now = system.instant();
    var row = agenda.lockMovableClock();
    if (row == null) {
      offset(first, now);
      agenda.putMovableClock(first, offsetMicros, now);
      return;
    }
    offsetMicros = row.offsetMicros();
    var others = row.aliveAt() != null && row.aliveAt().isAfter(now.minus(ALIVE));
    if (!others) {
      offset(row.at(), now);
    }
    agenda.putMovableClock(row.at(), offsetMicros, now);
  }

  private void offset(Instant at, Instant now) {
    offsetMicros = ChronoUnit.MICROS.between(now, at);
  }

  private Instant read(Instant now) {
    return now.plus(offsetMicros, ChronoUnit.MICROS).truncatedTo(ChronoUnit.MICROS);
  }

  @Override
  public synchronized Instant instant() {
    var now = read(system.instant());
    last = now.isBefore(last) ? last : now;
    return last;
  }

  /** Moves forward to a moment; one that has passed changes nothing. */
  public synchronized void moveTo(Instant moment) {
    own.executeWithoutResult(status -> {
      var row = agenda.lockMovableClock();
      follow(row);
      if (moment.isAfter(instant())) {
        var now = system.instant();
        offset(moment, now);
        last = moment;
        agenda.putMovableClock(moment, offsetMicros, now);
      }
    });
  }

  /**
   * Goes by the clock as another service may have moved it meanwhile, and tells the database up to
   * when it may be read: before a transaction writes a time.
   */
  void follow() {
    follow(agenda.movableClock());
    var now = instant();
    if (!now.plus(SOON).isBefore(promised)) {
      promised = now.plus(PROMISED);
      own.executeWithoutResult(status -> agenda.readMovableClock(promised, system.instant()));
    }
  }

  private synchronized void follow(@Nullable ClockRow row) {
    if (row != null) {
      offsetMicros = Math.max(offsetMicros, row.offsetMicros());
    }
  }

  /** Remembers the time it is, so that a restart goes on from here. */
  public void remember() {
    agenda.readMovableClock(instant(), system.instant());
  }

  @Override
  public boolean movable() {
    return true;
  }
}
