package glenmoor.server;

import java.time.Duration;
import java.util.concurrent.Semaphore;

/**
 * Holds back the answer to whoever comes too often, so that a flood comes no faster than one try of
 * each of its clients in this time. Whoever waits costs a virtual thread; beyond a number of them,
 * the rest is answered at once.
 */
final class HeldBack {
  private static final Duration PAUSE = Duration.ofSeconds(1);
  private static final int MOST = 2_000;
  private final Semaphore room = new Semaphore(MOST);

  void pause() {
    if (!room.tryAcquire()) {
      return;
    }
    try {
      Thread.sleep(PAUSE);
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
    } finally {
      room.release();
    }
  }
}
