package glenmoor.cli;

import de.siegmar.fastcsv.writer.CsvWriter;
import java.io.IOException;
import java.io.PrintStream;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.time.Instant;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.function.Function;
import picocli.CommandLine.Option;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.SerializationFeature;
import tools.jackson.databind.json.JsonMapper;

/** How answers are written: a table for people, the API's own JSON or CSV for programs. */
public final class Output {
  private static final int NARROWEST = 60;
  private static final int USUAL_WIDTH = 120;
  private static final int LEAST_COLUMN = 8;

  /** The forms there are. */
  public enum Form {
    table,
    json,
    csv
  }

  /** One column of a table. */
  public record Column(String heading, Function<JsonNode, String> value) {
    public static Column of(String heading, String pointer) {
      return new Column(heading, node -> shown(node.at("/" + pointer)));
    }
  }

  @Option(
      names = {"-o", "--output"},
      defaultValue = "table",
      description = "How to write the answer: ${COMPLETION-CANDIDATES}. Default: table.")
  Form form = Form.table;

  private final PrintStream out = System.out;
  private boolean progressShown;

  private static String shown(JsonNode node) {
    return node.isNull() || node.isMissingNode()
        ? ""
        : node.isValueNode() ? node.asString() : node.toString();
  }

  public boolean isTable() {
    return form == Form.table;
  }

  /** Writes a list: {@code all} for JSON, its rows in columns otherwise. */
  public void list(JsonNode all, Iterable<JsonNode> rows, List<Column> columns, String empty) {
    switch (form) {
      case json -> json(all);
      case csv -> csv(rows, columns);
      case table -> {
        table(rows, columns, empty);
        more(all);
      }
    }
  }

  /** A list that goes on says so, and how to see the rest. */
  private void more(JsonNode all) {
    var next = all.path("next");
    if (!next.isMissingNode() && !next.isNull()) {
      var total = all.path("total").isNumber() ? all.path("total").asString() + " in all" : "more";
      out.println("… %s; go on with --after %s, or --all".formatted(total, next.asString()));
    }
  }

  /** Writes one answer: JSON, or the lines given; one answer is no table that CSV could hold. */
  public void one(JsonNode node, List<String> lines) {
    noCsv();
    if (form == Form.json) {
      json(node);
    } else {
      lines.forEach(out::println);
    }
  }

  /** Refuses CSV where there is no list, before anything is done. */
  public void noCsv() {
    if (form == Form.csv) {
      throw Client.Failed.wrongWords(
          "This command answers with one thing, not a list; say --output table or json.");
    }
  }

  /** A number of things, in words: {@code 1 fault}, {@code 3 faults}. */
  public static String count(long number, String one, String many) {
    return "%,d %s".formatted(number, number == 1 ? one : many);
  }

  public void line(String line) {
    out.println(line);
  }

  public void json(JsonNode node) {
    out.println(
        JsonMapper.builder()
            .enable(SerializationFeature.INDENT_OUTPUT)
            .build()
            .writeValueAsString(node));
  }

  private void csv(Iterable<JsonNode> rows, List<Column> columns) {
    var text = new StringWriter();
    try (var writer = CsvWriter.builder().build(text)) {
      writer.writeRecord(columns.stream().map(c -> c.heading().toLowerCase(Locale.ROOT)).toList());
      rows.forEach(row ->
          writer.writeRecord(columns.stream().map(c -> harmless(c.value().apply(row))).toList()));
    } catch (IOException impossible) {
      throw new UncheckedIOException(impossible);
    }
    out.print(text);
  }

  /** What a spreadsheet would take for a formula is made a text (OWASP, "CSV Injection"). */
  static String harmless(String text) {
    return !text.isEmpty()
            && "=+-@\t\r".indexOf(text.charAt(0)) >= 0
            && !text.matches("-?\\d+(\\.\\d+)?")
        ? "'" + text
        : text;
  }

  private void table(Iterable<JsonNode> rows, List<Column> columns, String empty) {
    var cells = new ArrayList<List<String>>();
    rows.forEach(row -> cells.add(columns.stream().map(c -> c.value().apply(row)).toList()));
    if (cells.isEmpty()) {
      out.println(empty);
      return;
    }
    var widths = widths(columns, cells);
    line(columns.stream().map(Column::heading).toList(), widths);
    cells.forEach(row -> line(row, widths));
  }

  /** As wide as the content, unless that is wider than the terminal: then the widest give way. */
  private static int[] widths(List<Column> columns, List<List<String>> cells) {
    var widths = new int[columns.size()];
    for (var i = 0; i < widths.length; i++) {
      widths[i] = columns.get(i).heading().length();
      for (var row : cells) {
        widths[i] = Math.max(widths[i], length(row.get(i)));
      }
    }
    var room = width() - 2 * (widths.length - 1);
    while (Arrays.stream(widths).sum() > room) {
      var widest = 0;
      for (var i = 1; i < widths.length; i++) {
        widest = widths[i] > widths[widest] ? i : widest;
      }
      if (widths[widest] <= LEAST_COLUMN) {
        break;
      }
      widths[widest]--;
    }
    return widths;
  }

  private static int width() {
    var columns = System.getenv("COLUMNS");
    if (columns != null && columns.matches("\\d{2,4}")) {
      return Math.max(NARROWEST, Integer.parseInt(columns));
    }
    return isTerminal() ? USUAL_WIDTH : Integer.MAX_VALUE;
  }

  private static boolean isTerminal() {
    var console = System.console();
    return console != null && console.isTerminal();
  }

  private static int length(String text) {
    return text.codePointCount(0, text.length());
  }

  private void line(List<String> cells, int[] widths) {
    var line = new StringBuilder();
    for (var i = 0; i < widths.length; i++) {
      var cell = cells.get(i);
      var shown = length(cell) > widths[i] ? cut(cell, widths[i]) : cell;
      line.append(shown).append(" ".repeat(Math.max(0, widths[i] - length(shown)) + 2));
    }
    out.println(line.toString().stripTrailing());
  }

  private static String cut(String text, int width) {
    return text.substring(0, text.offsetByCodePoints(0, width - 1)) + "…";
  }

  /** Tells how far long work is, on a terminal only; the empty text wipes it away. */
  public void progress(String sentence) {
    if (isTerminal() && form == Form.table && (progressShown || !sentence.isEmpty())) {
      System.err.print("\r\033[K" + sentence);
      System.err.flush();
      progressShown = !sentence.isEmpty();
    }
  }

  /** A moment as people read it, in the service's zone. */
  public static String moment(JsonNode at, String zone) {
    if (at.isNull() || at.isMissingNode()) {
      return "";
    }
    return Instant.parse(at.asString())
        .atZone(ZoneId.of(zone.isEmpty() ? "UTC" : zone))
        .format(DateTimeFormatter.ofPattern("d MMM yyyy HH:mm:ss", Locale.ENGLISH));
  }
}
