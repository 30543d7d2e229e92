package glenmoor.core.requests;

import java.util.Arrays;

/**
 * The life of a re-request: what somebody was given before they moved is approved again, or ends.
 *
 * <p>It begins with the move, whatever else is being asked for, and ends once: kept when it was
 * approved again, ended in every other way.
 */
public enum Reapproval {
  /** Not asked for yet: another request for the same package is open. */
  DUE("due"),
  /** Somebody is asked. */
  ASKED("asked"),
  /** Approved again: it lasts as long as it would have without the move. */
  KEPT("kept"),
  /** Not approved: it ended at once. */
  ENDED("ended"),
  /** Nothing was left to ask for: the grant was over. */
  NOTHING_LEFT("nothing-left"),
  /** The person moved again, and another re-request took its place. */
  REPLACED("replaced");

  /** What can happen to one. */
  public enum Event {
    /** No other request for the package is open, so somebody is asked. */
    REQUESTED,
    APPROVED,
    /** Declined, lapsed, withdrawn or dropped. */
    NOT_APPROVED,
    GRANT_OVER,
    MOVED_AGAIN
  }

  private final String word;

  Reapproval(String word) {
    this.word = word;
  }

  public String word() {
    return word;
  }

  /** Whether nothing can happen to it any more. */
  public boolean over() {
    return switch (this) {
      case DUE, ASKED -> false;
      case KEPT, ENDED, NOTHING_LEFT, REPLACED -> true;
    };
  }

  /**
   * @throws IllegalArgumentException if there is none of this word
   */
  public static Reapproval ofWord(String word) {
    return Arrays.stream(values())
        .filter(each -> each.word.equals(word))
        .findFirst()
        .orElseThrow(() -> new IllegalArgumentException("There is no re-request " + word));
  }

  /**
   * What comes next.
   *
   * @throws IllegalStateException if that cannot happen to it
   */
  public Reapproval after(Event event) {
    return switch (this) {
      case DUE ->
          switch (event) {
            case REQUESTED -> ASKED;
            case GRANT_OVER -> NOTHING_LEFT;
            case MOVED_AGAIN -> REPLACED;
            case APPROVED, NOT_APPROVED -> throw impossible(event);
          };
      case ASKED ->
          switch (event) {
            case APPROVED -> KEPT;
            case NOT_APPROVED -> ENDED;
            case GRANT_OVER -> NOTHING_LEFT;
            case MOVED_AGAIN -> REPLACED;
            case REQUESTED -> throw impossible(event);
          };
      case KEPT, ENDED, NOTHING_LEFT, REPLACED -> throw impossible(event);
    };
  }

  private IllegalStateException impossible(Event event) {
    return new IllegalStateException(
        "%s cannot happen to a re-request that is %s".formatted(event, word));
  }
}
