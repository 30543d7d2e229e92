package glenmoor.engine.provisioning;

import java.time.Duration;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;

/** The lanes of one application that are in hand, and the room for those that are worked on. */
final class LanesInHand {
  /** As many lanes are leased ahead as are done in this time, within bounds for each worker. */
  private static final Duration AHEAD = Duration.ofSeconds(1);

  private static final int FEWEST_AHEAD = 2;
  private static final int MOST_AHEAD = 64;
  private static final int FIRST_AHEAD = 16;

  private final Room room = new Room();
  private final AtomicInteger inHand = new AtomicInteger();
  private volatile int parallel;
  private volatile long laneNanos = AHEAD.toNanos() / FIRST_AHEAD;

  /** As many as this from now on; those that are worked on already are done first. */
  synchronized LanesInHand with(int wanted) {
    if (wanted > parallel) {
      room.release(wanted - parallel);
    } else {
      room.reducePermits(parallel - wanted);
    }
    parallel = wanted;
    return this;
  }

  /** Waits for room to work on one more; false where there was none for so long. */
  boolean takeRoom(long nanos) throws InterruptedException {
    return room.tryAcquire(Math.max(0, nanos), TimeUnit.NANOSECONDS);
  }

  void giveRoom() {
    room.release();
  }

  void taken() {
    inHand.incrementAndGet();
  }

  void left() {
    inHand.decrementAndGet();
  }

  /**
   * A lane took so long; the mean of the last ones is what the next ones are expected to take.
   * Where two say so at once one may be lost, which changes little.
   */
  void took(long nanos) {
    laneNanos += (nanos - laneNanos) / FIRST_AHEAD;
  }

  /** The application does not answer: no more is leased than can find out whether it does. */
  void isAway() {
    laneNanos = AHEAD.toNanos();
  }

  /** How many more lanes to take; none while at least half of what is enough is in hand. */
  int missing() {
    var each = AHEAD.toNanos() / Math.max(1, laneNanos);
    var enough = parallel * (int) Math.clamp(each, FEWEST_AHEAD, MOST_AHEAD);
    var now = inHand.get();
    return now <= enough / 2 ? enough - now : 0;
  }

  private static final class Room extends Semaphore {
    private static final long serialVersionUID = 1;

    Room() {
      super(0);
    }

    @Override
    protected void reducePermits(int reduction) {
      super.reducePermits(reduction);
    }
  }
}
