package glenmoor.core.requests;

import java.util.Set;

/**
 * Who is told, beside people, of what becomes of what an offer gave.
 *
 * @param channel the key of a channel: a webhook, a chat or a ticket desk
 */
public record Telling(String channel, Set<Turn> on) {
  /** What can become of something that was given. */
  public enum Turn {
    /** It has begun. */
    GRANTED("granted"),
    /** It is over. */
    ENDED("ended"),
    /** An application refuses something that it gives, and somebody has to mend that. */
    FAILED("failed");

    private final String word;

    Turn(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }
  }
}
