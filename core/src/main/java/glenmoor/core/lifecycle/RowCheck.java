package glenmoor.core.lifecycle;

import glenmoor.core.people.FactDefinition;
import glenmoor.core.people.FactType;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Spaces;
import glenmoor.core.people.WorkerNumber;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;

/**
 * Turns the fields of one row into typed facts, or into the reasons why it cannot be used. Made
 * once per file, after its heading is known; what needs other rows (a repeated worker number, the
 * chain of managers) is checked by {@link ManagerChain}.
 */
public final class RowCheck {
  private static final int LONGEST_FOUND = 60;

  /** What a decoder puts where bytes are not UTF-8 (Unicode, section 3.9). */
  private static final char UNREADABLE = '\uFFFD';

  /** What one row came to. */
  public sealed interface Result {
    /** A row that can be used. */
    record Good(WorkerNumber worker, Facts facts) implements Result {}

    /** A row to reject; {@code worker} is empty when it cannot be told. */
    record Bad(String worker, List<Reject> rejects) implements Result {}
  }

  /** The heading lacks something without which no row can be read. */
  public static final class BadHeading extends RuntimeException {
    public BadHeading(String sentence) {
      super(sentence);
    }
  }

  private record Bound(int index, Source.Column column, FactDefinition fact) {}

  private final int width;
  private final int workerIndex;
  private final String workerColumn;
  private final List<Bound> bound;

  /**
   * Binds a source to the heading of a file.
   *
   * @throws BadHeading if a mapped column is not in the heading
   */
  public RowCheck(Source source, Map<String, FactDefinition> facts, List<String> heading) {
    width = heading.size();
    workerColumn = source.workerColumn();
    workerIndex = heading.indexOf(workerColumn);
    var missing = new ArrayList<String>();
    if (workerIndex < 0) {
      missing.add(workerColumn);
    }
    bound = new ArrayList<>();
    for (var column : source.columns()) {
      var index = heading.indexOf(column.column());
      var fact = facts.get(column.fact());
      if (index < 0) {
        missing.add(column.column());
      } else if (fact != null) {
        bound.add(new Bound(index, column, fact));
      }
    }
    if (!missing.isEmpty()) {
      separator(source, heading);
      throw new BadHeading(
          "The heading on line 1 has no column %s; it has %s. Nothing was changed: put the column back, or change the source's mapping."
              .formatted(String.join(", ", missing), String.join(", ", heading)));
    }
  }

  /** One column with another separator in it is no file without columns. */
  private static void separator(Source source, List<String> heading) {
    if (heading.size() == 1) {
      for (var other : List.of(";", "\t", "|", ",")) {
        if (heading.getFirst().contains(other) && other.charAt(0) != source.separator()) {
          throw new BadHeading(
              "The columns are divided by %s, and the source %s expects %s. Nothing was changed: say separator: \"%s\" in the source, or have the file written otherwise."
                  .formatted(
                      named(other.charAt(0)),
                      source.key(),
                      named(source.separator()),
                      other.equals("\t") ? "\\t" : other));
        }
      }
    }
  }

  private static String named(char separator) {
    return switch (separator) {
      case ';' -> "semicolons";
      case ',' -> "commas";
      case '\t' -> "tabs";
      case '|' -> "bars";
      default -> "“" + separator + "”";
    };
  }

  /** The worker number of a row of the right width, or null where it cannot be told. */
  public @Nullable WorkerNumber worker(List<String> fields) {
    return fields.size() == width ? WorkerNumber.read(fields.get(workerIndex)).orElse(null) : null;
  }

  /** How many columns a row must have. */
  public int width() {
    return width;
  }

  /** The manager that a row of the right width names; the empty text where it names none. */
  public String manager(List<String> fields) {
    for (var each : bound) {
      if (each.fact().key().equals(Facts.MANAGER)) {
        var text = Spaces.strip(fields.get(each.index()));
        return each.column().meant(text).orElse("");
      }
    }
    return "";
  }

  /** Checks one row. */
  public Result check(long line, List<String> fields) {
    if (fields.size() != width) {
      var worker = workerIndex < fields.size() ? shown(Spaces.strip(fields.get(workerIndex))) : "";
      return new Result.Bad(
          worker,
          List.of(
              new Reject(
                  line,
                  worker,
                  "",
                  fields.size() + " columns",
                  width + " columns, as the heading has")));
    }
    var raw = Spaces.strip(fields.get(workerIndex));
    var number = WorkerNumber.read(raw);
    var worker = number.map(WorkerNumber::value).orElse(shown(raw));
    var rejects = new ArrayList<Reject>();
    if (raw.isEmpty()) {
      rejects.add(new Reject(line, "", workerColumn, "nothing", "a worker number"));
    } else if (number.isEmpty()) {
      rejects.add(new Reject(line, worker, workerColumn, worker, WorkerNumber.EXPECTED));
    }
    var values = new TreeMap<String, Object>();
    for (var each : bound) {
      var value = value(line, worker, each, fields.get(each.index()), rejects);
      if (value != null) {
        values.put(each.fact().key(), value);
      }
    }
    var facts = new Facts(values);
    checkDates(line, worker, facts, rejects);
    return rejects.isEmpty() && number.isPresent()
        ? new Result.Good(number.get(), facts)
        : new Result.Bad(number.map(WorkerNumber::value).orElse(""), List.copyOf(rejects));
  }

  private @Nullable Object value(
      long line, String worker, Bound each, String raw, List<Reject> rejects) {
    var text = Spaces.strip(raw);
    var fact = each.fact();
    if (text.isEmpty()) {
      if (fact.required()) {
        rejects.add(
            new Reject(line, worker, each.column().column(), "nothing", fact.type().expectation()));
      }
      return null;
    }
    if (text.indexOf(UNREADABLE) >= 0) {
      rejects.add(
          new Reject(line, worker, each.column().column(), shown(text), "text encoded as UTF-8"));
      return null;
    }
    if (Spaces.hasInvisible(text)) {
      rejects.add(
          new Reject(
              line,
              worker,
              each.column().column(),
              shown(text),
              "no control characters, direction marks or other invisible letters"));
      return null;
    }
    if (text.length() > fact.longest()) {
      rejects.add(
          new Reject(
              line,
              worker,
              each.column().column(),
              text.length() + " characters: " + shown(text),
              "at most " + fact.longest() + " characters"));
      return null;
    }
    var meant = each.column().meant(text);
    if (meant.isEmpty()) {
      rejects.add(
          new Reject(
              line,
              worker,
              each.column().column(),
              shown(text),
              "one of " + String.join(", ", new TreeSet<>(each.column().values().keySet()))));
      return null;
    }
    var mapped = meant.get();
    var read = read(fact, mapped);
    if (read.isEmpty()) {
      rejects.add(
          new Reject(line, worker, each.column().column(), shown(text), fact.type().expectation()));
    } else if (fact.type() == FactType.PERSON
        && WorkerNumber.key(mapped).equals(WorkerNumber.key(worker))) {
      rejects.add(
          new Reject(
              line, worker, each.column().column(), shown(text), "somebody other than the person"));
    }
    return read.orElse(null);
  }

  /** A person is named by a worker number, in whichever of its spellings. */
  private static Optional<Object> read(FactDefinition fact, String text) {
    return fact.type() == FactType.PERSON
        ? WorkerNumber.read(text).map(WorkerNumber::value)
        : fact.type().read(text);
  }

  private void checkDates(long line, String worker, Facts facts, List<Reject> rejects) {
    order(line, worker, facts, Facts.START, Facts.END, rejects);
    order(line, worker, facts, Facts.LEAVE_FROM, Facts.LEAVE_TO, rejects);
  }

  private void order(
      long line, String worker, Facts facts, String first, String last, List<Reject> rejects) {
    var from = facts.date(first);
    var to = facts.date(last);
    if (from.isPresent() && to.isPresent() && to.get().isBefore(from.get())) {
      rejects.add(
          new Reject(
              line, worker, columnOf(last), to.get().toString(), notBefore(from.get(), first)));
    }
  }

  private String notBefore(LocalDate from, String fact) {
    return "a date not before " + from + " in " + columnOf(fact);
  }

  private String columnOf(String fact) {
    return bound.stream()
        .filter(each -> each.fact().key().equals(fact))
        .map(each -> each.column().column())
        .findFirst()
        .orElse(fact);
  }

  /** The text as it can be shown in one line: what is invisible named, the end cut. */
  static String shown(String text) {
    var out = new StringBuilder();
    text.codePoints()
        .limit(LONGEST_FOUND)
        .forEach(letter -> {
          if (Spaces.isInvisible(letter)) {
            out.append("<U+%04X>".formatted(letter));
          } else {
            out.appendCodePoint(letter);
          }
        });
    return text.codePointCount(0, text.length()) > LONGEST_FOUND ? out + "…" : out.toString();
  }
}
