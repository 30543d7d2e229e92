package glenmoor.core.requests;

import java.time.Instant;
import java.util.Arrays;
import java.util.Optional;

/** How a line of a request stands. */
public sealed interface LineState {
  /** Somebody has to agree. */
  record Open() implements LineState {}

  /** It is over, once and for all. */
  record Ended(Outcome outcome, Instant at, String reason) implements LineState {}

  /** How a line ends. */
  enum Outcome {
    APPROVED("approved"),
    DECLINED("declined"),
    LAPSED("lapsed"),
    WITHDRAWN("withdrawn"),
    /** The world moved on: whoever it was for has left, or what it was for is gone. */
    DROPPED("dropped");

    private final String word;

    Outcome(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }

    public static Optional<Outcome> ofWord(String word) {
      return Arrays.stream(values()).filter(each -> each.word.equals(word)).findFirst();
    }
  }
}
