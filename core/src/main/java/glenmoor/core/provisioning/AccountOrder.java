package glenmoor.core.provisioning;

import java.time.Instant;

/**
 * What a playbook orders of an account beside what access gives.
 *
 * @param since when; an order to delete counts only for an account that nobody has needed since
 *     before
 */
public record AccountOrder(String application, Kind kind, Instant since) {
  /** What is ordered. */
  public enum Kind {
    /** To be kept disabled, whatever is granted. */
    DISABLE("disable"),
    /** To be deleted once nobody needs it. */
    DELETE("delete");

    private final String word;

    Kind(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }

    public static Kind ofWord(String word) {
      return word.equals("delete") ? DELETE : DISABLE;
    }
  }
}
