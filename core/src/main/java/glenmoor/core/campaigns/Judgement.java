package glenmoor.core.campaigns;

import java.util.Arrays;
import java.util.Optional;

/** The two decisions. */
public enum Judgement {
  KEEP("keep"),
  REVOKE("revoke");

  private final String word;

  Judgement(String word) {
    this.word = word;
  }

  public String word() {
    return word;
  }

  public static Optional<Judgement> ofWord(String word) {
    return Arrays.stream(values()).filter(each -> each.word.equals(word)).findFirst();
  }
}
