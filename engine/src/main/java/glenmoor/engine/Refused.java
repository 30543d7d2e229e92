package glenmoor.engine;

import java.util.List;

/** Something that was asked for and cannot be; carries the sentence the asker will read. */
public final class Refused extends RuntimeException {
  private static final long serialVersionUID = 1;

  /** Why, as far as a door has to tell them apart. */
  public enum Reason {
    NOT_ALLOWED,
    NOT_THERE,
    BAD_INPUT,
    NOT_NOW,
    TOO_MANY
  }

  /** One thing wrong in the input, at a place in it. */
  public record Mistake(String pointer, String sentence) {}

  private final Reason reason;
  private final transient List<Mistake> mistakes;

  public Refused(Reason reason, String sentence) {
    this(reason, sentence, List.of());
  }

  public Refused(Reason reason, String sentence, List<Mistake> mistakes) {
    super(sentence);
    this.reason = reason;
    this.mistakes = List.copyOf(mistakes);
  }

  public static Refused notThere(String sentence) {
    return new Refused(Reason.NOT_THERE, sentence);
  }

  public static Refused badInput(String sentence) {
    return new Refused(Reason.BAD_INPUT, sentence);
  }

  /** One field of the input is wrong. */
  public static Refused mistake(String field, String sentence) {
    return new Refused(Reason.BAD_INPUT, sentence, List.of(new Mistake("/" + field, sentence)));
  }

  public Reason reason() {
    return reason;
  }

  public List<Mistake> mistakes() {
    return mistakes;
  }
}
