package glenmoor.core.exchange;

import glenmoor.core.agenda.Schedule;
import java.util.Optional;

/**
 * How files are exchanged with an application.
 *
 * @param rows which accounts a file names
 * @param at when one is written, besides whenever somebody asks for it
 */
public record Exchange(String application, Rows rows, Optional<Schedule> at) {
  /** Which accounts a file names. Each row says how all of one account shall be. */
  public enum Rows {
    /** Those about which something waits. */
    CHANGES("changes"),
    /** All there shall be, and those to be deleted. */
    ALL("all");

    private final String word;

    Rows(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }
  }
}
