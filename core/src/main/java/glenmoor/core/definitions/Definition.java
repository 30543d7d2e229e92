package glenmoor.core.definitions;

import java.util.HashMap;
import java.util.Map;
import java.util.Set;

/** One document of a definition file: what it defines, its key, and all it says. */
public record Definition(Kind kind, String key, Tree.Fields body) {

  /** What can be defined, in the order in which one needs the other. */
  public enum Kind {
    FACT("fact"),
    SOURCE("source"),
    APPLICATION("application"),
    ENTITLEMENT("entitlement"),
    PACKAGE("package"),
    BIRTHRIGHT("birthright"),
    BRAKE("brake");

    private final String word;

    Kind(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }
  }

  /** What identifies it among all definitions. */
  public record Name(Kind kind, String key) implements Comparable<Name> {
    @Override
    public int compareTo(Name other) {
      var byKind = kind.compareTo(other.kind);
      return byKind == 0 ? key.compareTo(other.key) : byKind;
    }

    @Override
    public String toString() {
      return kind.word() + ": " + key;
    }
  }

  /** What an application's definition says of the way to it, and not of who has what there. */
  private static final Set<String> ON_THE_WAY = Set.of("name", "connector", "settings", "parallel");

  /**
   * Whether everybody's plans stay as they are when this takes the place of {@code before}: it
   * changes how files are read or how an application is reached, not who has what.
   */
  public boolean plansLike(Definition before) {
    return switch (kind) {
      case SOURCE, BRAKE -> true;
      case APPLICATION -> planned(before).equals(planned(this));
      case FACT, ENTITLEMENT, PACKAGE, BIRTHRIGHT -> saysAs(before);
    };
  }

  private static Map<String, Object> planned(Definition application) {
    var said = new HashMap<String, Object>();
    application.body.fields().forEach((key, value) -> said.put(key, value.plain()));
    said.keySet().removeAll(ON_THE_WAY);
    return said;
  }

  /** Whether it says the same, wherever it stands in whichever file. */
  public boolean saysAs(Definition other) {
    return body.plain().equals(other.body.plain());
  }

  public Name name() {
    return new Name(kind, key);
  }
}
