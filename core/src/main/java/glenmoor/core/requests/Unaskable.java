package glenmoor.core.requests;

/** Something cannot be asked for in this way; says where and why. */
public final class Unaskable extends RuntimeException {
  private static final long serialVersionUID = 1;
  private final String field;

  /**
   * @param field of the line it stands in
   * @param sentence for the asker to read
   */
  public Unaskable(String field, String sentence) {
    super(sentence);
    this.field = field;
  }

  public String field() {
    return field;
  }
}
