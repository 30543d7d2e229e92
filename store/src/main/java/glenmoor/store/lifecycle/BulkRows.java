package glenmoor.store.lifecycle;

import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.List;
import javax.sql.DataSource;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.jdbc.datasource.DataSourceUtils;

/**
 * Rows on their way into one table by {@code LOAD DATA LOCAL}: written to a temporary file while a
 * feed is read, sent in one go inside the transaction of the caller.
 *
 * <p>A file and not a pipe, because a feed's rows are decided before the transaction begins: it is
 * then as short as the database can make it.
 */
public final class BulkRows implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(BulkRows.class);
  private final String table;
  private final List<String> columns;
  private final Path file;
  private OutputStream out;
  private final StringBuilder row = new StringBuilder(512);
  private long rows;

  /**
   * @param columns names; one that begins with {@code 0x} is written as hexadecimal digits and kept
   *     as bytes
   */
  public BulkRows(String table, List<String> columns) {
    this.table = table;
    this.columns = List.copyOf(columns);
    try {
      file = Files.createTempFile("glenmoor-" + table, ".rows");
      out = new BufferedOutputStream(Files.newOutputStream(file), 1 << 16);
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
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
    try {
      out.write(row.toString().getBytes(StandardCharsets.UTF_8));
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
  }

  private void escape(String text) {
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

  /** Forgets all rows added so far. */
  public void startOver() {
    try {
      out.close();
      out = new BufferedOutputStream(Files.newOutputStream(file), 1 << 16);
      rows = 0;
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
  }

  public long rows() {
    return rows;
  }

  /** Sends all rows, on the connection of the transaction that is open. */
  public void send(DataSource dataSource) {
    if (rows == 0) {
      return;
    }
    var start = System.nanoTime();
    var connection = DataSourceUtils.getConnection(dataSource);
    try (var statement = connection.createStatement()) {
      out.flush();
      try (var in = Files.newInputStream(file)) {
        statement.unwrap(org.mariadb.jdbc.Statement.class).setLocalInfileInputStream(in);
        statement.execute(sql());
      }
      LOG.debug("{} rows into {} in {} ms", rows, table, (System.nanoTime() - start) / 1_000_000);
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    } catch (SQLException failed) {
      throw new IllegalStateException(
          "Rows for " + table + " could not be sent: " + failed, failed);
    } finally {
      DataSourceUtils.releaseConnection(connection, dataSource);
    }
  }

  private String sql() {
    var into = columns.stream().map(c -> c.startsWith("0x") ? "@" + c.substring(2) : c).toList();
    var set =
        columns.stream()
            .filter(c -> c.startsWith("0x"))
            .map(c -> c.substring(2) + " = unhex(@" + c.substring(2) + ")")
            .toList();
    return "load data local infile 'rows' into table %s character set utf8mb4 (%s)%s"
        .formatted(
            table, String.join(", ", into), set.isEmpty() ? "" : " set " + String.join(", ", set));
  }

  @Override
  public void close() {
    try {
      out.close();
      Files.deleteIfExists(file);
    } catch (IOException failed) {
      throw new UncheckedIOException(failed);
    }
  }
}
