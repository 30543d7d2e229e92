package glenmoor.core.letters;

import glenmoor.core.conditions.BadExpression;
import glenmoor.core.conditions.Compiling;
import glenmoor.core.conditions.Expressions;
import glenmoor.core.conditions.Expressions.LetterText;
import glenmoor.core.conditions.Unanswerable;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.Reading;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.UnaryOperator;
import java.util.regex.Pattern;

/**
 * A text with expressions in it, each between two opening and two closing braces. What an
 * expression gives is never read as a part of the template.
 */
public final class Template {
  private static final Pattern EXPRESSION = Pattern.compile("\\{\\{(.*?)}}", Pattern.DOTALL);

  private sealed interface Part {
    record Fixed(String text) implements Part {}

    record Filled(LetterText expression) implements Part {}
  }

  private final String text;
  private final List<Part> parts;

  private Template(String text, List<Part> parts) {
    this.text = text;
    this.parts = List.copyOf(parts);
  }

  /**
   * Reads a template.
   *
   * @throws BadExpression if an expression in it cannot be used, or is not closed
   */
  public static Template read(String text, Expressions expressions) {
    var parts = new ArrayList<Part>();
    var matcher = EXPRESSION.matcher(text);
    var from = 0;
    while (matcher.find()) {
      parts.add(new Part.Fixed(closed(text.substring(from, matcher.start()))));
      parts.add(new Part.Filled(expressions.letterText(matcher.group(1).strip())));
      from = matcher.end();
    }
    parts.add(new Part.Fixed(closed(text.substring(from))));
    return new Template(text, parts);
  }

  /**
   * Reads the template that a definition says under a key that must be there; what is wrong with it
   * is reported there.
   *
   * @param what to say under the key
   * @param longest the most characters it may have
   * @param known has the facts that can be named
   */
  public static Optional<Template> read(
      Reading reading, String key, String what, int longest, Defined known) {
    var text = reading.needed(key, what);
    if (text.isBlank()) {
      return Optional.empty();
    }
    if (text.length() > longest) {
      reading.problem(
          reading.place(key),
          "%s has %,d characters; it may have %,d.".formatted(key, text.length(), longest));
      return Optional.empty();
    }
    try {
      return Optional.of(read(text, Compiling.expressions(known)));
    } catch (BadExpression bad) {
      reading.problem(
          reading.place(key), "%s cannot be used: %s.".formatted(key, bad.getMessage()));
      return Optional.empty();
    }
  }

  private static String closed(String fixed) {
    if (fixed.contains("{{") || fixed.contains("}}")) {
      throw new BadExpression("an expression stands between {{ and }}, and one is not closed", 0);
    }
    return fixed;
  }

  public String text() {
    return text;
  }

  /** Whether it names something that a letter may have beside the facts, such as passcode. */
  public boolean names(String variable) {
    var word = Pattern.compile("\\b" + Pattern.quote(variable) + "\\b");
    return parts.stream()
        .anyMatch(part ->
            part instanceof Part.Filled filled && word.matcher(filled.expression().text()).find());
  }

  /**
   * The text for one occasion.
   *
   * @param values what its expressions see
   * @param escape what is done with each value before it stands in the text
   * @throws Unanswerable if an expression fails
   */
  String filled(Map<String, Object> values, UnaryOperator<String> escape) {
    var filled = new StringBuilder();
    for (var part : parts) {
      switch (part) {
        case Part.Fixed fixed -> filled.append(fixed.text());
        case Part.Filled inside -> filled.append(escape.apply(inside.expression().value(values)));
      }
    }
    return filled.toString();
  }
}
