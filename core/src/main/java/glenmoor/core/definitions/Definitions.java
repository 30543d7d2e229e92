package glenmoor.core.definitions;

import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/** Reads definitions, or gives the complete list of what is wrong with them. */
public final class Definitions {
  /** What reading came to: to be used exactly when there is no problem. */
  public record Result(Defined defined, List<Problem> problems) {}

  private Definitions() {}

  /** Reads the first key of a document: what it defines and under which key. */
  public static Optional<Definition> document(Tree.Fields body, List<Problem> problems) {
    var first = body.fields().entrySet().stream().findFirst();
    var kind = first.flatMap(entry -> DefinitionKinds.ofWord(entry.getKey()));
    if (kind.isEmpty() || !(first.get().getValue() instanceof Tree.Text key)) {
      problems.add(
          new Problem(
              body.place(),
              "A document begins with what it defines and its key, such as package: bridge-officer; what can be defined is %s."
                  .formatted(
                      String.join(
                          ", ",
                          DefinitionKinds.all().stream().map(DefinitionKind::word).toList()))));
      return Optional.empty();
    }
    var rule = kind.get().keys();
    if (!rule.pattern().matcher(key.value()).matches()) {
      problems.add(
          new Problem(key.place(), "%s; this is “%s”.".formatted(rule.sentence(), key.value())));
      return Optional.empty();
    }
    return Optional.of(new Definition(kind.get(), key.value(), body));
  }

  /** Reads all definitions that shall be in force together. */
  public static Result read(Collection<Definition> all) {
    var problems = new ArrayList<Problem>();
    var defined = new Defined();
    for (var kind : DefinitionKinds.all()) {
      var ofKind = all.stream().filter(each -> each.kind().word().equals(kind.word())).toList();
      for (var definition : ofKind) {
        var reading = new Reading(definition.body(), problems);
        reading.text(kind.word());
        kind.read(definition.key(), reading, defined)
            .ifPresent(read -> defined.put(kind, definition.key(), read));
        reading.finish();
      }
      kind.check(ofKind, defined, (place, sentence) -> problems.add(new Problem(place, sentence)));
    }
    return new Result(defined, List.copyOf(problems));
  }
}
