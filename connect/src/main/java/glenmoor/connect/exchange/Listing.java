package glenmoor.connect.exchange;

import glenmoor.connect.lifecycle.CsvFile;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;

/**
 * What an application says it has: all of its accounts, by their worker numbers, as they are once
 * it took an order. In memory as a whole: some hundred bytes an account.
 */
final class Listing {
  private static final Set<String> STATES = Set.of("enabled", "disabled");

  /**
   * An account as the application has it; only with a problem, what it says of somebody who has
   * none.
   *
   * @param worker empty where it carries none
   * @param state enabled or disabled; empty where there is no account
   * @param problem why the order about it was not carried out; empty if it was
   */
  record Row(
      String worker,
      String account,
      String state,
      TreeMap<String, String> attributes,
      Set<String> rights,
      String problem) {
    boolean isThere() {
      return !state.isEmpty();
    }
  }

  /** It cannot be read as what it should be. */
  static final class NoListing extends Exception {
    private static final long serialVersionUID = 1;

    NoListing(String sentence) {
      super(sentence);
    }
  }

  private final Map<String, Row> byWorker = new HashMap<>();
  private final Set<String> twice = new HashSet<>();
  private final List<Row> rows = new ArrayList<>();

  /**
   * Reads one.
   *
   * @param attributes those that are mapped, each a column
   */
  static Listing of(ExchangeFolder.Answer answer, Collection<String> attributes) throws NoListing {
    var listing = new Listing();
    var reader = listing.new Reader(attributes);
    try {
      new CsvFile(answer.file(), ',').read(reader);
    } catch (CsvFile.Broken | UncheckedIOException bad) {
      throw new NoListing("%s cannot be read".formatted(answer.file().getFileName()));
    }
    if (!reader.mistake.isEmpty()) {
      throw new NoListing("%s: %s".formatted(answer.file().getFileName(), reader.mistake));
    }
    return listing;
  }

  private final class Reader implements CsvFile.Rows {
    private final Collection<String> attributes;
    private List<String> columns = List.of();
    private String mistake = "";

    Reader(Collection<String> attributes) {
      this.attributes = attributes;
    }

    @Override
    public void heading(List<String> said) {
      columns = said;
      var missing = new TreeSet<>(ExchangeFolder.headings(List.copyOf(attributes)));
      missing.removeAll(said);
      if (!missing.isEmpty()) {
        mistake = "it has no column " + String.join(", ", missing);
      }
    }

    @Override
    public void row(long line, List<String> fields) {
      if (!mistake.isEmpty()) {
        return;
      }
      var values = new HashMap<String, String>();
      for (var i = 0; i < Math.min(columns.size(), fields.size()); i++) {
        values.put(columns.get(i), fields.get(i));
      }
      var problem = values.getOrDefault("problem", "").strip();
      var state = values.getOrDefault("state", "").strip();
      if (!STATES.contains(state) && (problem.isEmpty() || !state.isEmpty())) {
        mistake = "line %d says no state; say enabled or disabled".formatted(line);
        return;
      }
      var mapped = new TreeMap<String, String>();
      for (var attribute : attributes) {
        var value = values.getOrDefault(attribute, "");
        if (!value.isEmpty()) {
          mapped.put(attribute, value);
        }
      }
      add(
          new Row(
              values.getOrDefault("worker", "").strip(),
              values.getOrDefault("account", "").strip(),
              state,
              mapped,
              Rights.of(values.getOrDefault("rights", "")),
              problem));
    }
  }

  private void add(Row row) {
    rows.add(row);
    if (!row.worker().isEmpty() && byWorker.put(row.worker(), row) != null) {
      twice.add(row.worker());
    }
  }

  /** All accounts there are, and what is said of others. */
  List<Row> rows() {
    return rows;
  }

  Row of(String worker) {
    return byWorker.getOrDefault(worker, new Row(worker, "", "", new TreeMap<>(), Set.of(), ""));
  }

  boolean isTwice(String worker) {
    return twice.contains(worker);
  }

  int accounts() {
    return (int) rows.stream().filter(Row::isThere).count();
  }

  int problems() {
    return (int) rows.stream().filter(row -> !row.problem().isEmpty()).count();
  }

  /** Rights in one column, with semicolons between them. */
  static final class Rights {
    private Rights() {}

    static Set<String> of(String column) {
      return Arrays.stream(column.split(";"))
          .map(String::strip)
          .filter(right -> !right.isEmpty())
          .collect(Collectors.toUnmodifiableSet());
    }
  }
}
