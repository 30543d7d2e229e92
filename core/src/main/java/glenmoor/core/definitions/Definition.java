package glenmoor.core.definitions;

import java.util.Comparator;
import java.util.List;

/** One document of a definition file: what it defines, its key, and all it says. */
public record Definition(DefinitionKind<?> kind, String key, Tree.Fields body) {

  /**
   * What identifies it among all definitions.
   *
   * @param kind its word
   */
  public record Name(String kind, String key) implements Comparable<Name> {
    private static final List<String> KINDS =
        DefinitionKinds.all().stream().map(DefinitionKind::word).toList();
    private static final Comparator<Name> ORDER =
        Comparator.comparingInt((Name name) -> KINDS.indexOf(name.kind)).thenComparing(Name::key);

    @Override
    public int compareTo(Name other) {
      return ORDER.compare(this, other);
    }

    @Override
    public String toString() {
      return kind + ": " + key;
    }
  }

  /** Whether everybody's plans stay as they are when this takes the place of {@code before}. */
  public boolean plansLike(Definition before) {
    return kind.plansLike(before.body, body);
  }

  /** Whose plans may become others when it is added, changed or dropped. */
  public Concern concern() {
    return kind.concern(key, body);
  }

  /** Whether it says the same, wherever it stands in whichever file. */
  public boolean saysAs(Definition other) {
    return body.plain().equals(other.body.plain());
  }

  public Name name() {
    return new Name(kind.word(), key);
  }
}
