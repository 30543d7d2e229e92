package glenmoor.core.reconcile;

import java.util.Arrays;
import java.util.Optional;

/** What is done about a difference as soon as it is found. */
public enum Response {
  /** It is shown, and nobody is asked. */
  REPORT("report"),
  /** The application is made to be as it should be. */
  REPAIR("repair"),
  /** What was found becomes what should be. */
  ADOPT("adopt"),
  /** It waits for who answers for the application. */
  ASK("ask");

  private final String word;

  Response(String word) {
    this.word = word;
  }

  public String word() {
    return word;
  }

  public static Optional<Response> ofWord(String word) {
    return Arrays.stream(values()).filter(each -> each.word.equals(word)).findFirst();
  }
}
