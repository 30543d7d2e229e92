package glenmoor.core.letters;

import java.util.Map;

/**
 * Where what is no letter is sent, over HTTP.
 *
 * @param settings its address and the name of the file with its secret
 */
public record Channel(String key, String name, Kind kind, Map<String, Object> settings) {
  /** What is at the other end. */
  public enum Kind {
    TICKETS("tickets"),
    CHAT("chat"),
    WEBHOOK("webhook");

    private final String word;

    Kind(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }
  }
}
