package glenmoor.core.requests;

/** A decision that cannot be taken; carries the sentence that the decider will read. */
public final class Refusal extends RuntimeException {
  private static final long serialVersionUID = 1;

  /** Why, as far as a door has to tell them apart. */
  public enum Kind {
    NOT_YOURS,
    SETTLED,
    BAD_INPUT
  }

  private final Kind kind;

  Refusal(Kind kind, String sentence) {
    super(sentence);
    this.kind = kind;
  }

  public Kind kind() {
    return kind;
  }
}
