package glenmoor.connect.applications;

import glenmoor.connect.applications.Connector.CannotRead;
import java.math.BigDecimal;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.mariadb.jdbc.MariaDbDataSource;
import org.springframework.dao.DataAccessException;
import org.springframework.dao.InvalidDataAccessApiUsageException;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.jdbc.core.namedparam.NamedParameterJdbcTemplate;
import org.springframework.jdbc.datasource.SingleConnectionDataSource;

/** Reads the rows of one statement of a source's database, as texts; nothing is changed there. */
public final class SqlRows {
  private static final Set<String> SETTINGS = Set.of("url", "user", "password-file", "trust-file");
  private static final int LONGEST_SECONDS = 300;
  private static final int FETCHED_AT_ONCE = 1_000;

  /** Takes rows. */
  public interface Rows {
    void heading(List<String> columns);

    /**
     * One row; what is nothing is the empty text.
     *
     * @param watermark the value of the watermark's column, or null
     */
    void row(List<String> fields, @Nullable Comparable<?> watermark);
  }

  private SqlRows() {}

  /**
   * Reads all rows of a statement.
   *
   * @param settings where the database is
   * @param select sent as it stands, with values in the place of its named parameters
   * @param watermark the column whose values are given on as they are; null for none
   * @throws Settings.BadSetting if a setting is missing or wrong
   * @throws CannotRead with a sentence, if the database does not give them
   */
  public static void read(
      String source,
      Map<String, Object> settings,
      ConnectorEnvironment environment,
      String select,
      Map<String, String> values,
      @Nullable String watermark,
      Rows rows) {
    var known = Settings.ofSource(source, settings, SETTINGS, environment);
    try (var connections = connections(known)) {
      var template = new JdbcTemplate(connections);
      template.setQueryTimeout(LONGEST_SECONDS);
      template.setFetchSize(FETCHED_AT_ONCE);
      new NamedParameterJdbcTemplate(template)
          .query(
              select,
              values,
              found -> {
                rows(found, watermark, rows);
                return true;
              });
    } catch (InvalidDataAccessApiUsageException unnamed) {
      throw new CannotRead(
          "The statement names a value that is not there; there is :watermark, where a watermark is defined.");
    } catch (DataAccessException failed) {
      throw new CannotRead(capital(SqlDatabase.outcome(failed, "select").sentence()));
    } catch (SQLException away) {
      throw new CannotRead("The database does not answer (SQL state " + away.getSQLState() + ").");
    }
  }

  private static SingleConnectionDataSource connections(Settings settings) throws SQLException {
    var database = new MariaDbDataSource(SqlDatabase.address(settings, LONGEST_SECONDS * 1_000));
    database.setUser(settings.needed("user"));
    database.setPassword(settings.secretFrom("password-file"));
    var connection = database.getConnection();
    connection.setReadOnly(true);
    return new SingleConnectionDataSource(connection, true);
  }

  private static String capital(String sentence) {
    var capital = Character.toUpperCase(sentence.charAt(0)) + sentence.substring(1);
    return capital.endsWith(".") ? capital : capital + ".";
  }

  private static void rows(ResultSet found, @Nullable String watermark, Rows rows)
      throws SQLException {
    var meta = found.getMetaData();
    var columns = new ArrayList<String>();
    var marked = 0;
    for (var i = 1; i <= meta.getColumnCount(); i++) {
      columns.add(meta.getColumnLabel(i));
      marked = meta.getColumnLabel(i).equalsIgnoreCase(watermark) ? i : marked;
    }
    if (watermark != null && marked == 0) {
      throw new CannotRead(
          "The statement gives no column %s, which is the watermark; it gives %s."
              .formatted(watermark, String.join(", ", columns)));
    }
    rows.heading(columns);
    while (found.next()) {
      var fields = new ArrayList<String>(columns.size());
      for (var i = 1; i <= columns.size(); i++) {
        fields.add(text(found.getObject(i)));
      }
      rows.row(fields, marked == 0 ? null : (Comparable<?>) found.getObject(marked));
    }
  }

  private static String text(@Nullable Object value) {
    return switch (value) {
      case null -> "";
      case BigDecimal number -> number.toPlainString();
      case byte[] bytes -> throw new CannotRead("A column holds bytes, which is no text.");
      default -> value.toString();
    };
  }
}
