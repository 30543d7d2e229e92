package glenmoor.connect.applications;

import java.lang.ref.WeakReference;
import java.time.Duration;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.Future;

/**
 * Cancels what takes too long. All of it has the same time, so what began first is over first, and
 * one thread that looks at the oldest now and then is enough; a timer for each would cost more than
 * the calls it guards.
 */
final class Deadlines implements AutoCloseable {
  private static final Duration LOOK = Duration.ofMillis(500);

  /** Weak, so that an answer that came long ago is not kept because an older call is still out. */
  private record Watched(WeakReference<Future<?>> work, long until) {}

  private final ConcurrentLinkedQueue<Watched> watched = new ConcurrentLinkedQueue<>();
  private final long nanos;
  private final Thread looking;

  /**
   * @param time after which work is cancelled; up to half a second later
   */
  Deadlines(Duration time) {
    nanos = time.toNanos();
    looking = Thread.ofVirtual().name("deadlines").start(this::look);
  }

  void watch(Future<?> work) {
    watched.add(new Watched(new WeakReference<>(work), System.nanoTime() + nanos));
  }

  private void look() {
    try {
      while (true) {
        Thread.sleep(LOOK);
        for (var oldest = watched.peek(); oldest != null; oldest = watched.peek()) {
          var work = oldest.work().get();
          if (work != null && !work.isDone() && System.nanoTime() - oldest.until() < 0) {
            break;
          }
          if (work != null) {
            work.cancel(true);
          }
          watched.poll();
        }
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
