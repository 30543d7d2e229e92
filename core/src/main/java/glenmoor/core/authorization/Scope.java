package glenmoor.core.authorization;

import java.util.Arrays;
import java.util.Optional;

/**
 * What a duty reaches: everything, or one thing of a kind.
 *
 * @param key of the one thing; empty for everything
 */
public record Scope(Kind kind, String key) {
  /** The kinds of things that a duty may be limited to. */
  public enum Kind {
    EVERYTHING("everything"),
    APPLICATION("application"),
    PORTFOLIO("portfolio"),
    CONFLICT_RULE("conflict-rule"),
    CAMPAIGN("campaign");

    private final String word;

    Kind(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }

    public static Optional<Kind> ofWord(String word) {
      return Arrays.stream(values()).filter(kind -> kind.word.equals(word)).findFirst();
    }
  }

  public static final Scope EVERYTHING = new Scope(Kind.EVERYTHING, "");

  /** One application. */
  public static Scope application(String key) {
    return new Scope(Kind.APPLICATION, key);
  }

  /** One portfolio. */
  public static Scope portfolio(String key) {
    return new Scope(Kind.PORTFOLIO, key);
  }

  /** One conflict rule. */
  public static Scope conflictRule(String key) {
    return new Scope(Kind.CONFLICT_RULE, key);
  }

  /** One campaign. */
  public static Scope campaign(String key) {
    return new Scope(Kind.CAMPAIGN, key);
  }

  /** Whether what is asked for lies within. */
  public boolean covers(Scope asked) {
    return kind == Kind.EVERYTHING || equals(asked);
  }

  /** For people to read: {@code everything}, or {@code application directory}. */
  public String words() {
    return kind == Kind.EVERYTHING ? kind.word : kind.word + " " + key;
  }
}
