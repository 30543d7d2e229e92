package glenmoor.connect.lifecycle;

import de.siegmar.fastcsv.reader.CsvParseException;
import de.siegmar.fastcsv.reader.CsvReader;
import de.siegmar.fastcsv.reader.CsvRecord;
import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;

/**
 * A CSV file (RFC 4180) in UTF-8, read as a stream as often as one likes. A byte order mark is
 * tolerated; bytes that are not UTF-8 become U+FFFD, so that only their row need be rejected.
 */
public record CsvFile(Path path, char separator) {

  /** The file as a whole cannot be used. */
  public static final class Broken extends RuntimeException {
    public Broken(String sentence) {
      super(sentence);
    }
  }

  /** Takes one row after the other. */
  public interface Rows {
    void heading(List<String> columns);

    void row(long line, List<String> fields);
  }

  /**
   * Reads all of it.
   *
   * @throws Broken if it is empty, has no row, or a quote is not closed
   */
  public void read(Rows rows) {
    var heading = true;
    var last = 0L;
    try (var reader = open()) {
      for (var record : reader) {
        last = record.getStartingLineNumber();
        if (heading) {
          rows.heading(record.getFields().stream().map(String::strip).toList());
          heading = false;
        } else if (!isBlank(record)) {
          rows.row(last, record.getFields());
        }
      }
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    } catch (CsvParseException bad) {
      throw new Broken(
          "The file breaks off after line %d: %s. Nothing was changed: mend the file and load it again."
              .formatted(last, cause(bad)));
    }
    if (heading) {
      throw new Broken("The file is empty. Nothing was changed: was it cut off on its way here?");
    }
  }

  private static String cause(CsvParseException bad) {
    var deepest = bad.getCause() == null ? bad : bad.getCause();
    return String.valueOf(deepest.getMessage());
  }

  private static boolean isBlank(CsvRecord record) {
    return record.getFieldCount() == 1 && record.getField(0).isBlank();
  }

  private CsvReader<CsvRecord> open() throws IOException {
    var decoder =
        StandardCharsets.UTF_8
            .newDecoder()
            .onMalformedInput(CodingErrorAction.REPLACE)
            .onUnmappableCharacter(CodingErrorAction.REPLACE);
    return CsvReader.builder()
        .fieldSeparator(separator)
        .allowUnclosedQuote(false)
        .allowExtraFields(true)
        .allowMissingFields(true)
        .ofCsvRecord(new InputStreamReader(afterMark(), decoder));
  }

  /** The mark that a UTF-16 file begins with, in one of its two orders (RFC 2781, section 3.2). */
  private static boolean wide(byte first, byte second) {
    return (first & 0xFF) == 0xFE && (second & 0xFF) == 0xFF;
  }

  private InputStream afterMark() throws IOException {
    var in = new BufferedInputStream(Files.newInputStream(path), 1 << 16);
    in.mark(3);
    var mark = in.readNBytes(3);
    if (mark.length > 1 && (wide(mark[0], mark[1]) || wide(mark[1], mark[0]))) {
      throw new Broken(
          "The file is UTF-16, not UTF-8. Nothing was changed: have it saved as UTF-8 and load it again.");
    }
    if (mark.length < 3
        || (mark[0] & 0xFF) != 0xEF
        || (mark[1] & 0xFF) != 0xBB
        || (mark[2] & 0xFF) != 0xBF) {
      in.reset();
    }
    return in;
  }
}
