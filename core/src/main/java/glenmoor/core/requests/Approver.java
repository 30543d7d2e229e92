package glenmoor.core.requests;

import glenmoor.core.people.PersonId;
import java.util.Arrays;
import java.util.Optional;

/**
 * Somebody who is asked at a stage.
 *
 * @param named who is meant
 * @param person who acts: the same, or who stands in for them
 * @param as how they came to be asked
 * @param agreed whether they have agreed
 */
public record Approver(PersonId named, PersonId person, As as, boolean agreed) {
  /** How somebody comes to be asked. */
  public enum As {
    ASKED("asked"),
    STANDBY("standby"),
    PASSED_ON("passed-on");

    private final String word;

    As(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }

    public static Optional<As> ofWord(String word) {
      return Arrays.stream(values()).filter(each -> each.word.equals(word)).findFirst();
    }
  }

  Approver withAgreed() {
    return new Approver(named, person, as, true);
  }
}
