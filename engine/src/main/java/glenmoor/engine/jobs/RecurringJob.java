package glenmoor.engine.jobs;

import java.time.Duration;
import java.util.List;

/**
 * Work that recurs. One replica at a time does it, whichever comes first; doing it twice is
 * harmless.
 *
 * @param name one word, as the list of jobs shows it
 * @param what what it is for, as a part of a sentence
 * @param every how long it rests between two runs
 */
public record RecurringJob(String name, String what, Duration every, Runnable work) {
  /** What has work that recurs; every one there is gets scheduled. */
  public interface Owner {
    List<RecurringJob> recurring();
  }
}
