package glenmoor.engine;

/** Why somebody decided something, in their own words; kept with the decision. */
public record StatedReason(String text) {
  /** As long as the columns that keep it. */
  public static final int LONGEST = 1_000;

  public StatedReason {
    if (text.isBlank() || text.length() > LONGEST) {
      throw Refused.badInput(
          "Say why, in at most %,d characters: it is kept with the decision. This has %,d."
              .formatted(LONGEST, text.strip().length()));
    }
  }
}
