package glenmoor.core.applications;

import java.util.Arrays;

/** Whether an account can be used. */
public enum AccountState {
  /** There, and can be used. */
  ENABLED("enabled"),
  /** There, but nobody can sign in with it: not yet, for a while, or not any more. */
  DISABLED("disabled"),
  /** Not there: not yet made, or deleted. */
  NONE("none");

  private final String word;

  AccountState(String word) {
    this.word = word;
  }

  public String word() {
    return word;
  }

  public static AccountState ofWord(String word) {
    return Arrays.stream(values()).filter(s -> s.word.equals(word)).findFirst().orElseThrow();
  }
}
