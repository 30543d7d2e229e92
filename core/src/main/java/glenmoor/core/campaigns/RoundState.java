package glenmoor.core.campaigns;

import java.util.Arrays;

/** Where one round of a campaign is. */
public enum RoundState {
  /** Its items are being fixed. */
  LAUNCHING("launching"),
  /** It is judged. */
  OPEN("open"),
  /** All is decided; what was revoked is followed until it is confirmed. */
  CLOSING("closing"),
  /** All is decided, and all that was revoked is gone or handed to somebody. */
  CLOSED("closed"),
  /** It was given up before anything was decided for good. */
  DROPPED("dropped");

  private final String word;

  RoundState(String word) {
    this.word = word;
  }

  public String word() {
    return word;
  }

  /**
   * @throws IllegalArgumentException if there is none of this word
   */
  public static RoundState ofWord(String word) {
    return Arrays.stream(values())
        .filter(each -> each.word.equals(word))
        .findFirst()
        .orElseThrow(() -> new IllegalArgumentException("There is no state " + word));
  }
}
