package glenmoor.core.lifecycle;

import java.util.Arrays;

/** What a feed or a date means for one person. */
public enum EventKind {
  JOINER("joiner"),
  MOVER("mover"),
  LEAVER("leaver"),
  LEAVE_BEGINS("leave-begins"),
  LEAVE_ENDS("leave-ends"),
  REHIRE("rehire"),
  CORRECTION("correction"),
  START_MOVED("start-moved"),
  NO_SHOW("no-show");

  private final String word;

  EventKind(String word) {
    this.word = word;
  }

  public String word() {
    return word;
  }

  public static EventKind ofWord(String word) {
    return Arrays.stream(values())
        .filter(kind -> kind.word.equals(word))
        .findFirst()
        .orElseThrow(() -> new IllegalArgumentException("There is no event called " + word));
  }
}
