package glenmoor.core.people;

/**
 * One fact that people have here: its key, its type, and what a change of it means.
 *
 * @param key the name used in conditions, such as {@code department}
 * @param name the name shown to people
 * @param longest the greatest number of characters a text may have
 */
public record FactDefinition(
    String key, String name, FactType type, boolean required, OnChange onChange, int longest) {

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
