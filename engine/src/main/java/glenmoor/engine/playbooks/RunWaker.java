package glenmoor.engine.playbooks;

import glenmoor.engine.letters.Sending;
import glenmoor.engine.time.Clock;
import glenmoor.store.playbooks.PlaybookRunMapper;
import jakarta.inject.Named;

/** Makes a run due as soon as a message that it waits for was sent, or failed. */
@Named
final class RunWaker implements Sending.Settled {
  private final PlaybookRunMapper runs;
  private final Clock clock;

  RunWaker(PlaybookRunMapper runs, Clock clock) {
    this.runs = runs;
    this.clock = clock;
  }

  @Override
  public void settled(long run) {
    runs.wake(run, clock.instant());
  }
}
