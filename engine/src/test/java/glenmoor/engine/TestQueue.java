package glenmoor.engine;

import glenmoor.engine.jobs.JobQueue;
import glenmoor.engine.jobs.JobRunner;
import org.jspecify.annotations.Nullable;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;

/**
 * Takes long work up as soon as what began it is committed; or not at all, as of a service that
 * died.
 */
public final class TestQueue implements JobQueue {
  private volatile @Nullable JobRunner jobs;
  private volatile boolean dead;

  void does(JobRunner does) {
    jobs = does;
  }

  /** From now on nobody takes work up. */
  public void die() {
    dead = true;
  }

  /** Takes one piece of work up, as another service would. */
  public void takeUp(long work) {
    dead = false;
    start(work);
  }

  @Override
  public void add(long work) {
    if (TransactionSynchronizationManager.isSynchronizationActive()) {
      TransactionSynchronizationManager.registerSynchronization(
          new TransactionSynchronization() {
            @Override
            public void afterCommit() {
              start(work);
            }
          });
    } else {
      start(work);
    }
  }

  private void start(long work) {
    if (!dead) {
      Thread.ofVirtual().name("work-" + work).start(() -> until(work));
    }
  }

  private void until(long work) {
    var known = jobs;
    while (known != null && known.run(work).isPresent()) {
      try {
        Thread.sleep(20);
      } catch (InterruptedException stopped) {
        return;
      }
    }
  }
}
