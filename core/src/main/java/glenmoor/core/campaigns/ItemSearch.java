package glenmoor.core.campaigns;

import org.jspecify.annotations.Nullable;

/**
 * Which items, in which order.
 *
 * @param reviewer whose; null for those of the whole round
 * @param state the word of an {@link ItemState}; {@code open} for what may be decided, {@code
 *     following} for what is revoked and not over, {@code settled} for what was decided for good
 * @param after the item at which the page before ended; 0 for the first page
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
    Order order,
    long after,
    int limit) {
  /** In which order items are listed. */
  public enum Order {
    /** By the names of whose they are. */
    PERSON,
    /** By what is held. */
    TARGET,
    /** As they were fixed. */
    ITEM
  }

  /** Those of a reviewer in a state and with a judgement, by the order of their launch. */
  public static ItemSearch of(
      @Nullable Long reviewer,
      long round,
      @Nullable String state,
      @Nullable String judgement,
      long after,
      int limit) {
    return new ItemSearch(
        round,
        reviewer,
        state,
        judgement,
        null,
        null,
        null,
        null,
        false,
        false,
        false,
        Order.ITEM,
        after,
        limit);
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
        Order.ITEM,
        0,
        most);
  }
}
