package glenmoor.core.lifecycle;

import java.util.List;
import java.util.Map;

/**
 * Where worker records come from, and how their columns become facts.
 *
 * @param separator the character between fields
 * @param workerColumn the column that holds the worker number
 */
public record Source(
    String key, String name, Mode mode, char separator, String workerColumn, List<Column> columns) {

  /** Whether one delivery names everyone or only what changed. */
  public enum Mode {
    FULL("full"),
    CHANGES("changes");

    private final String word;

    Mode(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }
  }

  /**
   * One column of the file.
   *
   * @param values texts in the file that stand for other values, such as {@code EMP} for employee;
   *     empty when the text is the value
   */
  public record Column(String column, String fact, Map<String, String> values) {}
}
