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
 * @param longest how long it may rest while nothing is written to the database
 */
public record RecurringJob(
    String name, String what, Duration every, Duration longest, Runnable work) {
  private static final Duration USUAL_LONGEST = Duration.ofSeconds(10);

  /** What has work that recurs; every one there is gets scheduled. */
  public interface Owner {
    List<RecurringJob> recurring();
  }

  /** All that recurs. */
  public static List<RecurringJob> all(List<Owner> owners) {
    return owners.stream().flatMap(owner -> owner.recurring().stream()).toList();
  }

  /**
   * One that finds its work in the database, and may come ten seconds late to what is due by time.
   */
  public RecurringJob(String name, String what, Duration every, Runnable work) {
    this(name, what, every, every.compareTo(USUAL_LONGEST) < 0 ? USUAL_LONGEST : every, work);
  }
}
