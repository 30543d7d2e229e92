package glenmoor.core.provisioning;

import java.time.Instant;
import java.util.Arrays;

/**
 * What is ordered of an account beside what access gives, by a playbook or by adopting it.
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
    DELETE("delete"),
    /**
     * To be left as it was found: it was adopted, and what would change it is drift, for somebody
     * to decide on. It counts for the next plan.
     */
    LEAVE("leave");

    private final String word;

    Kind(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }

    public static Kind ofWord(String word) {
      return Arrays.stream(values())
          .filter(each -> each.word.equals(word))
          .findFirst()
          .orElseThrow(() -> new IllegalArgumentException("There is no order " + word));
    }
  }
}
