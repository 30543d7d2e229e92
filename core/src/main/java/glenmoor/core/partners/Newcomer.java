package glenmoor.core.partners;

import glenmoor.core.requests.LineState.Outcome;
import java.util.Collection;

/**
 * Whether somebody counts whose record waits for others to agree: until then their first day is
 * {@link glenmoor.core.people.Facts#NOT_YET}, so far ahead that nothing is made ready for them.
 */
public enum Newcomer {
  /** Somebody still has to say. */
  WAITS,
  /** Something that was asked for them was agreed to. */
  COUNTS,
  /** Nothing was, and nothing is open. */
  DOES_NOT;

  /**
   * From how the lines that were asked for them stand.
   *
   * @param states {@code open}, or how a line ended
   */
  public static Newcomer of(Collection<String> states) {
    if (states.contains(Outcome.APPROVED.word())) {
      return COUNTS;
    }
    return states.contains("open") || states.isEmpty() ? WAITS : DOES_NOT;
  }
}
