package glenmoor.core.definitions;

/** One document of a definition file: what it defines, its key, and all it says. */
public record Definition(Kind kind, String key, Tree.Fields body) {

  /** What can be defined, in the order in which one needs the other. */
  public enum Kind {
    FACT("fact"),
    SOURCE("source"),
    APPLICATION("application"),
    ENTITLEMENT("entitlement"),
    PACKAGE("package"),
    BIRTHRIGHT("birthright");

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

  public Name name() {
    return new Name(kind, key);
  }
}
