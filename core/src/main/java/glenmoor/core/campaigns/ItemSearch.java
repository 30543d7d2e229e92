package glenmoor.core.campaigns;

import org.jspecify.annotations.Nullable;

/**
 * Which items, in which order.
 *
 * @param reviewer whose; null for those of the whole round
 * @param state the word of an {@link ItemState}; {@code open} for what may be decided, {@code
 *     following} for what is revoked and not over, {@code settled} for what was decided for good
 * @param byTarget in the order of what is held, not of whose it is
 * @param afterTarget with {@code after}, where the page before ended
 */
public record ItemSearch(
    long round,
    @Nullable Long reviewer,
    @Nullable String state,
    @Nullable String judgement,
    @Nullable String suggestion,
    @Nullable String application,
    @Nullable String target,
    @Nullable String worker,
    boolean privileged,
    boolean conflict,
    boolean idle,
    boolean byTarget,
    String afterTarget,
    long after,
    int limit) {
  /** Those of a reviewer in a state and with a judgement, by the order of their launch. */
  public static ItemSearch of(
      @Nullable Long reviewer,
      long round,
      @Nullable String state,
      @Nullable String judgement,
      long after,
      int limit) {
    return new ItemSearch(
        round, reviewer, state, judgement, null, null, null, null, false, false, false, false, "",
        after, limit);
  }

  /** The same of another reviewer, from the first on. */
  public ItemSearch firstOf(long otherRound, long otherReviewer, int most) {
    return new ItemSearch(
        otherRound,
        otherReviewer,
        state == null ? ItemState.UNDECIDED.word() : state,
        judgement,
        suggestion,
        application,
        target,
        worker,
        privileged,
        conflict,
        idle,
        false,
        "",
        0,
        most);
  }
}
