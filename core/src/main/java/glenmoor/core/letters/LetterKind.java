package glenmoor.core.letters;

import com.google.auto.service.AutoService;
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
    var subject =
        Template.read(reading, "subject", "what it is about, in one line", LONGEST, known);
    var body = Template.read(reading, "body", "what it says, in Markdown", LONGEST, known);
    var name = reading.text("name", key);
    if (subject.isEmpty() || body.isEmpty()) {
      return Optional.empty();
    }
    if (subject.get().names(LetterValues.PASSCODE)) {
      reading.problem(
          reading.place("subject"),
          "A subject is shown in lists and on locked screens; the passcode stands in the body only.");
    }
    if (subject.get().names(LetterValues.LINK)
        || body.get().names(LetterValues.LINK) && body.get().names(LetterValues.PASSCODE)) {
      reading.problem(
          reading.place("body"),
          "{{link}} stands in a body, and in none that tells a passcode: each letter has one secret.");
    }
    return Optional.of(new Letter(key, name, subject.get(), body.get()));
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

  /** The key of the letter that a definition names; empty for none. One that is not is reported. */
  public static String named(String key, Reading reading, Defined known) {
    var named = reading.text(key, "");
    if (!named.isEmpty() && !known.all(LetterKind.class).containsKey(named)) {
      reading.problem(
          reading.place(key),
          "There is no letter “%s”; there are %s."
              .formatted(named, String.join(", ", known.all(LetterKind.class).keySet())));
    }
    return named;
  }
}
