package glenmoor.engine.people;

import java.util.Arrays;
import java.util.Optional;

/** What somebody was made responsible for. Without any, one sees oneself and one's reports. */
public enum Duty {
  ADMINISTRATOR("administrator"),
  AUDITOR("auditor"),
  PEOPLE_DESK("people-desk");

  private final String word;

  Duty(String word) {
    this.word = word;
  }

  public String word() {
    return word;
  }

  public static Optional<Duty> ofWord(String word) {
    return Arrays.stream(values()).filter(duty -> duty.word.equals(word)).findFirst();
  }
}
