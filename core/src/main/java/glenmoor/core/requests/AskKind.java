package glenmoor.core.requests;

import java.util.Arrays;
import java.util.Optional;
import java.util.stream.Collectors;

/** What a line of a request asks for. */
public enum AskKind {
  /** A package somebody has not. */
  NEW("new"),
  /** One they have, for longer. */
  EXTEND("extend"),
  /** One they have, with other answers to what its offer asks. */
  CHANGE("change"),
  /** That they have one no longer. */
  REMOVE("remove"),
  /** One they had and that is over, once more and with the same answers. */
  RESUME("resume");

  private final String word;

  AskKind(String word) {
    this.word = word;
  }

  public String word() {
    return word;
  }

  /** Whether it is about something that somebody has, or had. */
  public boolean aboutGrant() {
    return this != NEW;
  }

  /** Whether somebody has anything by it, or has it for longer. */
  public boolean gives() {
    return this != REMOVE;
  }

  /** Whether what it gives takes the place of what it is about. */
  public boolean replaces() {
    return this == EXTEND || this == CHANGE;
  }

  /** All the words, as an error names them. */
  public static String words() {
    return Arrays.stream(values()).map(AskKind::word).collect(Collectors.joining(", "));
  }

  public static Optional<AskKind> ofWord(String word) {
    return Arrays.stream(values()).filter(each -> each.word.equals(word)).findFirst();
  }
}
