package glenmoor.connect.applications;

import java.time.Duration;
import java.util.concurrent.ConcurrentLinkedQueue;
import org.apache.hc.core5.concurrent.Cancellable;
import org.jspecify.annotations.Nullable;

/**
 * Cancels what takes too long. All of it has the same time, so what began first is over first, and
 * one thread that looks at the oldest now and then is enough; a timer for each would cost more than
 * the calls it guards.
 */
final class Deadlines implements AutoCloseable {
  private static final Duration LOOK = Duration.ofMillis(500);

  /** Work under a deadline, until it is closed: then nothing of it is kept. */
  static final class Watched implements AutoCloseable {
    private final long until;
    private volatile @Nullable Cancellable work;
    private volatile boolean over;

    private Watched(Cancellable work, long until) {
      this.work = work;
      this.until = until;
    }

    /** Whether it took too long, and was cancelled. */
    boolean isOver() {
      return over;
    }

    @Override
    public void close() {
      work = null;
    }
  }

  private final ConcurrentLinkedQueue<Watched> watched = new ConcurrentLinkedQueue<>();
  private final long nanos;
  private final Runnable meanwhile;
  private final Thread looking;

  /**
   * @param time after which work is cancelled; up to half a second later
   * @param meanwhile what else is to be done now and then
   */
  Deadlines(Duration time, Runnable meanwhile) {
    nanos = time.toNanos();
    this.meanwhile = meanwhile;
    looking = Thread.ofVirtual().name("deadlines").start(this::look);
  }

  /** Work that is to be cancelled when its time is over, unless it is closed before. */
  Watched watch(Cancellable work) {
    var watching = new Watched(work, System.nanoTime() + nanos);
    watched.add(watching);
    return watching;
  }

  private void look() {
    try {
      while (true) {
        Thread.sleep(LOOK);
        for (var oldest = watched.peek(); oldest != null; oldest = watched.peek()) {
          var work = oldest.work;
          if (work != null && System.nanoTime() - oldest.until < 0) {
            break;
          }
          if (work != null) {
            oldest.over = true;
            work.cancel();
          }
          watched.poll();
        }
        meanwhile.run();
      }
    } catch (InterruptedException closed) {
      Thread.currentThread().interrupt();
    }
  }

  @Override
  public void close() {
    looking.interrupt();
  }
}
