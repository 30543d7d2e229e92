package glenmoor.core.letters;

import glenmoor.core.conditions.Unanswerable;
import java.util.Map;
import java.util.regex.Pattern;
import org.commonmark.parser.Parser;
import org.commonmark.renderer.html.HtmlRenderer;

/**
 * A letter as it is defined: a subject and a body in Markdown (CommonMark), written once and sent
 * as text and as HTML.
 */
public record Letter(String key, String name, Template subject, Template body) {
  private static final Parser PARSER = Parser.builder().build();
  private static final HtmlRenderer HTML =
      HtmlRenderer.builder().escapeHtml(true).sanitizeUrls(true).build();

  /** What CommonMark may read as more than a letter (CommonMark 0.31, section 2.4). */
  private static final Pattern PUNCTUATION = Pattern.compile("[!-/:-@\\[-`{-~]");

  private static final Pattern NOT_ONE_LINE = Pattern.compile("[\\p{Cntrl}\\u2028\\u2029]+");
  private static final int LONGEST_SUBJECT = 200;

  /** A letter for one occasion. */
  public record Written(String subject, String text, String html) {}

  /** Whether it tells a passcode, which is filled in only while it is sent. */
  public boolean tellsPasscode() {
    return body.names(LetterValues.PASSCODE);
  }

  /** Whether it leads to where its recipient decides; filled in only while it is sent. */
  public boolean leadsToDecision() {
    return body.names(LetterValues.LINK);
  }

  /**
   * Writes it. Values are of one line, and nothing in them is read as Markdown or HTML.
   *
   * @throws Unanswerable if an expression in it fails
   */
  public Written written(Map<String, Object> values) {
    var about = subject.filled(values, Letter::line);
    var text = body.filled(values, Letter::line);
    var html = HTML.render(PARSER.parse(body.filled(values, value -> escaped(line(value)))));
    return new Written(shortened(about), text, html);
  }

  /** Cut where it is too long, but not through a character. */
  private static String shortened(String subject) {
    if (subject.length() <= LONGEST_SUBJECT) {
      return subject;
    }
    var end = LONGEST_SUBJECT - 1;
    return subject.substring(0, Character.isHighSurrogate(subject.charAt(end - 1)) ? end - 1 : end)
        + "…";
  }

  static String line(String value) {
    return NOT_ONE_LINE.matcher(value).replaceAll(" ");
  }

  private static String escaped(String value) {
    return PUNCTUATION.matcher(value).replaceAll("\\\\$0");
  }
}
