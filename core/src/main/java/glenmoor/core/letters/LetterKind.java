package glenmoor.core.letters;

import com.google.auto.service.AutoService;
import glenmoor.core.conditions.BadExpression;
import glenmoor.core.conditions.Compiling;
import glenmoor.core.conditions.Expressions;
import glenmoor.core.definitions.Concern;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.DefinitionKind;
import glenmoor.core.definitions.Reading;
import glenmoor.core.definitions.Tree;
import java.util.Optional;
import java.util.Set;

/** {@code letter: welcome}: what Glenmoor writes on some occasion. */
@AutoService(DefinitionKind.class)
public final class LetterKind implements DefinitionKind<Letter> {
  private static final int LONGEST = 20_000;

  @Override
  public String word() {
    return "letter";
  }

  @Override
  public KeyRule keys() {
    return PLAIN_KEY;
  }

  @Override
  public Set<String> refersTo() {
    return Set.of("fact");
  }

  @Override
  public Optional<Letter> read(String key, Reading reading, Defined known) {
    var expressions = Compiling.expressions(known);
    var subject = template("subject", "what it is about, in one line", reading, expressions);
    var body = template("body", "what it says, in Markdown", reading, expressions);
    var name = reading.text("name", key);
    if (subject.isEmpty() || body.isEmpty()) {
      return Optional.empty();
    }
    if (subject.get().names(LetterValues.PASSCODE)) {
      reading.problem(
          reading.place("subject"),
          "A subject is shown in lists and on locked screens; the passcode stands in the body only.");
    }
    return Optional.of(new Letter(key, name, subject.get(), body.get()));
  }

  private static Optional<Template> template(
      String key, String what, Reading reading, Expressions expressions) {
    var text = reading.needed(key, what);
    if (text.isBlank()) {
      return Optional.empty();
    }
    if (text.length() > LONGEST) {
      reading.problem(
          reading.place(key),
          "%s has %,d characters; it may have %,d.".formatted(key, text.length(), LONGEST));
      return Optional.empty();
    }
    try {
      return Optional.of(Template.read(text, expressions));
    } catch (BadExpression bad) {
      reading.problem(
          reading.place(key), "%s cannot be used: %s.".formatted(key, bad.getMessage()));
      return Optional.empty();
    }
  }

  @Override
  public Concern concern(String key) {
    return Concern.NOBODY;
  }

  /** A letter changes nobody's access. */
  @Override
  public boolean plansLike(Tree.Fields before, Tree.Fields after) {
    return true;
  }
}
