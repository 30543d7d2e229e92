package glenmoor.core.people;

import java.util.Set;

/**
 * One fact that people have here: its key, its type, and what a change of it means.
 *
 * @param key the name used in conditions, such as {@code department}
 * @param name the name shown to people
 * @param longest the greatest number of characters a text may have
 * @param shown where people see it besides among all facts of a person
 */
public record FactDefinition(
    String key,
    String name,
    FactType type,
    boolean required,
    OnChange onChange,
    int longest,
    Set<Shown> shown) {

  /** Where a fact is seen. */
  public enum Shown {
    /** In the sentence at the top of a person's page. */
    TITLE("title"),
    /** Beside or beneath a person's name. */
    SUBTITLE("subtitle"),
    /** As a column of lists of people. */
    COLUMN("column"),
    /** As a filter of lists of people. */
    FILTER("filter"),
    /** As what forecasts are added up by; the first one counts. */
    GROUPING("grouping");

    private final String word;

    Shown(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }
  }

  /** What it means when a feed brings another value. */
  public enum OnChange {
    /** The person does other work now: a mover. */
    MOVE("move"),
    /** The record was put right: a correction, which touches no access by itself. */
    CORRECTION("correction");

    private final String word;

    OnChange(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }
  }
}
