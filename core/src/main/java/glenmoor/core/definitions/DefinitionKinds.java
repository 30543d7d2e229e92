package glenmoor.core.definitions;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.ServiceLoader;

/** The kinds of definition there are: whatever the rooms bring. */
public final class DefinitionKinds {
  private static final List<DefinitionKind<?>> ALL = found();

  private DefinitionKinds() {}

  /** All kinds, each after those it refers to. */
  public static List<DefinitionKind<?>> all() {
    return ALL;
  }

  public static Optional<DefinitionKind<?>> ofWord(String word) {
    return ALL.stream().filter(each -> each.word().equals(word)).findFirst();
  }

  private static List<DefinitionKind<?>> found() {
    var waiting = new ArrayList<DefinitionKind<?>>();
    for (DefinitionKind<?> kind : ServiceLoader.load(DefinitionKind.class)) {
      waiting.add(kind);
    }
    waiting.sort(Comparator.comparing(DefinitionKind::word));
    var ordered = new ArrayList<DefinitionKind<?>>();
    while (!waiting.isEmpty()) {
      var next =
          waiting.stream()
              .filter(kind ->
                  waiting.stream().noneMatch(other -> kind.refersTo().contains(other.word())))
              .findFirst()
              .orElseThrow(() ->
                  new IllegalStateException("Kinds of definition refer in a circle: " + waiting));
      waiting.remove(next);
      ordered.add(next);
    }
    return List.copyOf(ordered);
  }
}
