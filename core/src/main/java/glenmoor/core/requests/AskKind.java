package glenmoor.core.requests;

import java.util.Arrays;
import java.util.Optional;

/** What a line of a request asks for. */
public enum AskKind {
  /** A package somebody has not. */
  NEW("new"),
  /** One they have, for longer. */
  EXTEND("extend");

  private final String word;

  AskKind(String word) {
    this.word = word;
  }

  public String word() {
    return word;
  }

  public static Optional<AskKind> ofWord(String word) {
    return Arrays.stream(values()).filter(each -> each.word.equals(word)).findFirst();
  }
}
