package glenmoor.core.jobs;

import java.time.Duration;

/**
 * How long to wait before something is tried or looked at again: each pause is twice the one
 * before, up to the longest.
 */
public record GrowingPause(Duration first, Duration longest) {
  /** Enough for a second to grow to twelve days, and too few for any number to overflow. */
  private static final int MOST_DOUBLINGS = 20;

  /**
   * The pause after a number of earlier ones.
   *
   * @param earlier how many there were; 0 gives the first
   */
  public Duration after(int earlier) {
    var pause = first.multipliedBy(1L << Math.min(earlier, MOST_DOUBLINGS));
    return pause.compareTo(longest) < 0 ? pause : longest;
  }
}
