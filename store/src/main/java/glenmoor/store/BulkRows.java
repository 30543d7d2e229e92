package glenmoor.store;

import java.io.BufferedOutputStream;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.StandardOpenOption;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import javax.sql.DataSource;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DataIntegrityViolationException;
import org.springframework.dao.DuplicateKeyException;
import org.springframework.jdbc.UncategorizedSQLException;
import org.springframework.jdbc.datasource.DataSourceUtils;
import org.springframework.jdbc.support.SQLExceptionSubclassTranslator;
import org.springframework.jdbc.support.SQLExceptionTranslator;

/**
 * Rows on their way into one table by {@code LOAD DATA LOCAL}: gathered while they are decided,
 * sent in one go inside the transaction of the caller. What is more than {@value #MOST_IN_MEMORY}
 * bytes waits in a temporary file that has no name, so that a kill leaves nothing of it behind.
 *
 * <p>Of its own, {@code LOCAL} skips rows that break a unique key and bends values that do not fit;
 * here both are errors, as they are for {@code INSERT}.
 */
public final class BulkRows implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(BulkRows.class);
  private static final SQLExceptionTranslator ERRORS = new SQLExceptionSubclassTranslator();
  private static final int MOST_IN_MEMORY = 1 << 20;
  private static final int DUPLICATE = 1062;

  private final String table;
  private final List<String> columns;
  private final StringBuilder row = new StringBuilder(512);
  private ByteArrayOutputStream memory = new ByteArrayOutputStream(1 << 13);
  private @Nullable FileChannel file;
  private @Nullable OutputStream toFile;
  private long rows;

  /**
   * @param columns names; one that begins with {@code 0x} is written as hexadecimal digits and kept
   *     as bytes
   */
  public BulkRows(String table, List<String> columns) {
    this.table = table;
    this.columns = List.copyOf(columns);
  }

  /** Adds one row; null stays null. */
  public void add(@Nullable Object... values) {
    row.setLength(0);
    for (var i = 0; i < values.length; i++) {
      if (i > 0) {
        row.append('\t');
      }
      var value = values[i];
      if (value == null) {
        row.append("\\N");
      } else {
        escape(value.toString());
      }
    }
    row.append('\n');
    rows++;
    memory.writeBytes(row.toString().getBytes(StandardCharsets.UTF_8));
    if (memory.size() > MOST_IN_MEMORY) {
      spill();
    }
  }

  private void escape(String text) {
    if (text.indexOf('\\') < 0 && text.indexOf('\t') < 0 && text.indexOf('\n') < 0) {
      row.append(text);
      return;
    }
    for (var i = 0; i < text.length(); i++) {
      var c = text.charAt(i);
      switch (c) {
        case '\\' -> row.append("\\\\");
        case '\t' -> row.append("\\t");
        case '\n' -> row.append("\\n");
        default -> row.append(c);
      }
    }
  }

  private void spill() {
    try {
      var out = toFile;
      if (out == null) {
        var made = nameless(table);
        file = made;
        out = new BufferedOutputStream(Channels.newOutputStream(made), 1 << 16);
        toFile = out;
      }
      memory.writeTo(out);
      memory.reset();
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
  }

  /** A file that lives as long as it is open. */
  private static FileChannel nameless(String table) throws IOException {
    var path = Files.createTempFile("glenmoor-" + table, ".rows");
    var channel = FileChannel.open(path, StandardOpenOption.READ, StandardOpenOption.WRITE);
    Files.delete(path);
    return channel;
  }

  /** Reads a file from its beginning; closing leaves the file open, to be read once more. */
  private static final class FromTheBeginning extends InputStream {
    private final FileChannel file;
    private long at;

    FromTheBeginning(FileChannel file) {
      this.file = file;
    }

    @Override
    public int read() throws IOException {
      var one = new byte[1];
      return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
    }

    @Override
    public int read(byte[] bytes, int offset, int length) throws IOException {
      var read = file.read(ByteBuffer.wrap(bytes, offset, length), at);
      at += Math.max(0, read);
      return read;
    }
  }

  /** Forgets all rows added so far. */
  public void startOver() {
    close();
    memory = new ByteArrayOutputStream(1 << 13);
    rows = 0;
  }

  public long rows() {
    return rows;
  }

  /**
   * Sends all rows, on the connection of the transaction that is open.
   *
   * @throws DuplicateKeyException if one breaks a unique key
   * @throws DataIntegrityViolationException if one is not taken as it is
   */
  public void send(DataSource dataSource) {
    if (rows == 0) {
      return;
    }
    var start = System.nanoTime();
    var connection = DataSourceUtils.getConnection(dataSource);
    try (var statement = connection.createStatement();
        var in = gathered()) {
      statement.unwrap(org.mariadb.jdbc.Statement.class).setLocalInfileInputStream(in);
      var taken = statement.executeLargeUpdate(sql());
      check(taken, statement);
      LOG.debug("{} rows into {} in {} ms", rows, table, (System.nanoTime() - start) / 1_000_000);
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    } catch (SQLException failed) {
      var known = ERRORS.translate("rows for " + table, null, failed);
      throw known == null ? new UncategorizedSQLException("rows", table, failed) : known;
    } finally {
      DataSourceUtils.releaseConnection(connection, dataSource);
    }
  }

  private void check(long taken, Statement statement) throws SQLException {
    var warning = statement.getWarnings();
    if (taken == rows && warning == null) {
      return;
    }
    var sentence =
        "Of %d rows for %s, %d could be kept%s"
            .formatted(rows, table, taken, warning == null ? "" : ": " + warning.getMessage());
    throw warning != null && warning.getErrorCode() == DUPLICATE
        ? new DuplicateKeyException(sentence)
        : new DataIntegrityViolationException(sentence);
  }

  private InputStream gathered() throws IOException {
    var out = toFile;
    var from = file;
    if (out == null || from == null) {
      return new ByteArrayInputStream(memory.toByteArray());
    }
    memory.writeTo(out);
    memory.reset();
    out.flush();
    return new FromTheBeginning(from);
  }

  /** Bytes as they are: they are UTF-8 already, and so read a third faster than as characters. */
  private String sql() {
    var into = columns.stream().map(c -> c.startsWith("0x") ? "@" + c.substring(2) : c).toList();
    var set =
        columns.stream()
            .filter(c -> c.startsWith("0x"))
            .map(c -> c.substring(2) + " = unhex(@" + c.substring(2) + ")")
            .toList();
    return "load data local infile 'rows' into table %s character set binary (%s)%s"
        .formatted(
            table, String.join(", ", into), set.isEmpty() ? "" : " set " + String.join(", ", set));
  }

  @Override
  public void close() {
    try {
      if (toFile != null) {
        toFile.close();
        toFile = null;
      }
      if (file != null) {
        file.close();
        file = null;
      }
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
  }
}
