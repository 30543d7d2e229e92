package glenmoor.cli;

import de.siegmar.fastcsv.reader.CsvParseException;
import de.siegmar.fastcsv.reader.CsvReader;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** CSV files that a command is given (RFC 4180), the first line with the names of the columns. */
public final class CsvFile {
  /** A row: in which line it begins, and its cells by column; cells that a line lacks are empty. */
  public record Row(long line, Map<String, String> cells) {
    /** The cell of a column, without space around it; empty where there is none. */
    public String cell(String column) {
      return cells.getOrDefault(column, "").strip();
    }
  }

  private CsvFile() {}

  /** All rows of a file; one that cannot be read is a mistake in the words of the command. */
  public static List<Row> rows(Path file) {
    var rows = new ArrayList<Row>();
    try (var records = CsvReader.builder().ofNamedCsvRecord(file)) {
      for (var each : records) {
        var cells = new LinkedHashMap<String, String>();
        each.getHeader().forEach(column -> cells.put(column, ""));
        cells.putAll(each.getFieldsAsMap());
        rows.add(new Row(each.getStartingLineNumber(), cells));
      }
    } catch (IOException | CsvParseException unreadable) {
      throw Client.Failed.wrongWords("%s is no CSV file that can be read.".formatted(file));
    }
    return rows;
  }
}
