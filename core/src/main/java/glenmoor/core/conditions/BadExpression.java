package glenmoor.core.conditions;

/** An expression that cannot be used, with the place of its first error. */
public final class BadExpression extends RuntimeException {
  private final int column;

  public BadExpression(String sentence, int column) {
    super(sentence);
    this.column = column;
  }

  /** The character in the expression at which the error stands, from 1; 0 for the whole. */
  public int column() {
    return column;
  }
}
