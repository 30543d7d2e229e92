package glenmoor.core.campaigns;

import java.util.Arrays;
import java.util.Set;

/**
 * What became of one item. Until sign-off a decision can be taken back; after it, a revocation is
 * followed until it is gone, is somebody's to see to, or was given anew by a later decision.
 */
public enum ItemState {
  /** Nobody has decided. */
  UNDECIDED("undecided"),
  /** Decided, and not signed off. */
  DECIDED("decided"),
  /** Kept, for good. */
  KEPT("kept"),
  /** To be revoked at a moment, so that its holder can answer until then. */
  ANNOUNCED("announced"),
  /** Taken; the application has not confirmed it yet. */
  REMOVING("removing"),
  /** Confirmed: it is not there any more. */
  GONE("gone"),
  /** It cannot be confirmed, and somebody by name sees to it. */
  HANDED("handed"),
  /** Somebody decided later that it is to be held again. */
  AGAIN("again"),
  /** It ended by itself before anybody had decided for good. */
  ENDED("ended");

  private final String word;

  ItemState(String word) {
    this.word = word;
  }

  public String word() {
    return word;
  }

  /**
   * @throws IllegalArgumentException if there is none of this word
   */
  public static ItemState ofWord(String word) {
    return Arrays.stream(values())
        .filter(each -> each.word.equals(word))
        .findFirst()
        .orElseThrow(() -> new IllegalArgumentException("There is no state " + word));
  }

  /** What may come next. */
  public Set<ItemState> next() {
    return switch (this) {
      case UNDECIDED -> Set.of(DECIDED, KEPT, ANNOUNCED, ENDED);
      case DECIDED -> Set.of(UNDECIDED, DECIDED, KEPT, ANNOUNCED, ENDED);
      case ANNOUNCED -> Set.of(KEPT, REMOVING, GONE);
      case REMOVING -> Set.of(GONE, HANDED, AGAIN);
      case HANDED -> Set.of(GONE);
      case KEPT, GONE, AGAIN, ENDED -> Set.of();
    };
  }

  /** Whether a reviewer may still decide. */
  public boolean open() {
    return next().contains(DECIDED);
  }

  /** Whether the round may close with it. */
  public boolean over() {
    return switch (this) {
      case KEPT, GONE, HANDED, AGAIN, ENDED -> true;
      case UNDECIDED, DECIDED, ANNOUNCED, REMOVING -> false;
    };
  }
}
