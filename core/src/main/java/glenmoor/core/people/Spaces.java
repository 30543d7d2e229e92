package glenmoor.core.people;

/** Spaces and invisible letters, of which Unicode has more than a keyboard. */
public final class Spaces {
  private static final int JOINER = 0x200D;
  private static final int NON_JOINER = 0x200C;

  private Spaces() {}

  /** Without spaces at the ends, no-break and wide ones too. */
  public static String strip(String text) {
    var from = 0;
    var to = text.length();
    while (from < to && isSpace(text.charAt(from))) {
      from++;
    }
    while (to > from && isSpace(text.charAt(to - 1))) {
      to--;
    }
    return text.substring(from, to);
  }

  private static boolean isSpace(char c) {
    return Character.isWhitespace(c) || Character.isSpaceChar(c);
  }

  /**
   * Whether a text has letters that nobody sees but that change how it is shown or compared:
   * control characters, direction marks, zero-width spaces (Unicode categories Cc and Cf). The two
   * joiners, which some scripts write names with, are none of them.
   */
  public static boolean hasInvisible(String text) {
    return text.codePoints().anyMatch(Spaces::isInvisible);
  }

  public static boolean isInvisible(int letter) {
    return Character.isISOControl(letter)
        || Character.getType(letter) == Character.FORMAT
            && letter != JOINER
            && letter != NON_JOINER;
  }
}
