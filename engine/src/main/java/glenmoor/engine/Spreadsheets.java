package glenmoor.engine;

/** What a spreadsheet would take for a formula is made a text (OWASP, "CSV Injection"). */
public final class Spreadsheets {
  private Spreadsheets() {}

  /** The text, with a single quote before it where it would be a formula. */
  public static String harmless(String text) {
    return !text.isEmpty() && "=+-@\t\r".indexOf(text.charAt(0)) >= 0 ? "'" + text : text;
  }
}
