package glenmoor.core.lifecycle;

import glenmoor.core.agenda.Schedule;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Where worker records come from, and how their columns become facts.
 *
 * @param separator the character between fields
 * @param workerColumn the column that holds the worker number
 * @param missingAfter after how many full feeds in a row, on as many days, that do not name
 *     somebody they have left
 * @param drop where its files are dropped; empty where somebody brings them
 * @param view the database it is read from; empty where it comes in files
 * @param push the sign-in of the client that pushes people by SCIM; empty where none does
 * @param form whether its records are written by the people desk, in a form
 * @param numbers what the worker numbers begin with that are made up for its people; empty where
 *     they have some
 * @param countsBy the offer that is asked for somebody new, and that somebody has to agree to
 *     before they count; empty where they count at once
 * @param byManagers whether managers may write records of people who report to them, too
 */
public record Source(
    String key,
    String name,
    Mode mode,
    char separator,
    String workerColumn,
    List<Column> columns,
    int missingAfter,
    Optional<Drop> drop,
    Optional<View> view,
    Optional<String> push,
    boolean form,
    Optional<String> numbers,
    Optional<String> countsBy,
    boolean byManagers) {
  /** Whether it comes as files that somebody brings or drops. */
  public boolean inFiles() {
    return view.isEmpty() && push.isEmpty() && !form;
  }

  /** Nobody is waited for longer than this many feeds. */
  static final int MOST_MISSING = 10;

  /**
   * A directory into which files are dropped.
   *
   * @param directory its name, below where all drop directories are
   * @param at when it is looked into, besides whenever somebody asks for it
   */
  public record Drop(String directory, Optional<Schedule> at) {}

  /**
   * A statement that reads the records from a database.
   *
   * @param settings where the database is: url, user, password-file, trust-file
   * @param select the statement, sent as it stands
   * @param watermark the column that says what changed since; empty where all is read each time
   * @param since the watermark of the first time
   * @param at when it is read, besides whenever somebody asks for it
   */
  public record View(
      Map<String, Object> settings,
      String select,
      Optional<String> watermark,
      String since,
      Optional<Schedule> at) {
    /** How the statement names the watermark. */
    public static final String WATERMARK = "watermark";
  }

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
   * @param keepsOthers whether a text that is not among the values is kept as it is, not rejected
   */
  public record Column(
      String column, String fact, Map<String, String> values, boolean keepsOthers) {
    /** The value that a text stands for; nothing where it stands for none. */
    Optional<String> meant(String text) {
      if (values.isEmpty() || text.isEmpty()) {
        return Optional.of(text);
      }
      return Optional.ofNullable(values.get(text))
          .or(() -> keepsOthers ? Optional.of(text) : Optional.empty());
    }
  }
}
