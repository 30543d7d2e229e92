package glenmoor.core.people;

import com.google.auto.service.AutoService;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.DefinitionKind;
import glenmoor.core.definitions.Reading;
import glenmoor.core.definitions.Tree;
import glenmoor.core.people.FactDefinition.OnChange;
import glenmoor.core.people.FactDefinition.Shown;
import java.util.Arrays;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;

/** {@code fact: jobTitle}: one attribute that people have here. */
@AutoService(DefinitionKind.class)
public final class FactKind implements DefinitionKind<FactDefinition> {
  private static final int USUAL_LONGEST = 200;
  private static final Set<String> SEEN_ONLY = Set.of("name", "shown");

  /** CEL's own words (its language definition, "Syntax"), and what a person has besides facts. */
  private static final Set<String> RESERVED =
      Set.of(
          "worker",
          "teams",
          "name",
          "in",
          "true",
          "false",
          "null",
          "as",
          "break",
          "const",
          "continue",
          "else",
          "for",
          "function",
          "if",
          "import",
          "let",
          "loop",
          "package",
          "namespace",
          "return",
          "var",
          "void",
          "while");

  @Override
  public String word() {
    return "fact";
  }

  @Override
  public Set<String> refersTo() {
    return Set.of();
  }

  @Override
  public KeyRule keys() {
    return new KeyRule(
        Pattern.compile("[a-z][a-zA-Z0-9]*"),
        "A fact's key is one word that begins with a small letter, such as jobTitle");
  }

  @Override
  public Optional<FactDefinition> read(String key, Reading reading, Defined known) {
    if (RESERVED.contains(key)) {
      reading.problem(
          reading.place("fact"),
          "A fact cannot be called %s: the expression language has that word for something else. Call it %sCode or the like."
              .formatted(key, key));
      return Optional.empty();
    }
    var words = Arrays.stream(FactType.values()).map(FactType::word).toList();
    var type = FactType.ofWord(reading.oneOf("type", "text", words)).orElseThrow();
    var mustBe = meaning(key).orElse(type);
    if (mustBe != type) {
      reading.problem(
          reading.place("type"),
          "The fact %s has a meaning of its own and must be a %s.".formatted(key, mustBe.word()));
    }
    return Optional.of(
        new FactDefinition(
            key,
            reading.text("name", key),
            type,
            reading.yesNo("required"),
            reading.choice("on-change", OnChange.CORRECTION, OnChange::word),
            reading.number("longest", USUAL_LONGEST),
            reading.choices("shown", Shown.class, Shown::word)));
  }

  /** The type that a fact must have because Glenmoor itself computes with it. */
  private static Optional<FactType> meaning(String key) {
    return switch (key) {
      case Facts.START, Facts.END, Facts.LEAVE_FROM, Facts.LEAVE_TO -> Optional.of(FactType.DATE);
      case Facts.MANAGER -> Optional.of(FactType.PERSON);
      case Facts.GIVEN, Facts.FAMILY -> Optional.of(FactType.TEXT);
      default -> Optional.empty();
    };
  }

  /** What a fact is called and where it is seen changes nobody's plan. */
  @Override
  public boolean plansLike(Tree.Fields before, Tree.Fields after) {
    return before.without(SEEN_ONLY).equals(after.without(SEEN_ONLY));
  }
}
