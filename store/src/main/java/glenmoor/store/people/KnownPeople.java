package glenmoor.store.people;

import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.Arrays;
import javax.sql.DataSource;
import org.springframework.jdbc.datasource.DataSourceUtils;

/**
 * Reads who is known, of a source and of the others, as a stream and without an object a person: a
 * feed of a hundred thousand rows asks for a hundred thousand of these.
 */
public final class KnownPeople {
  private static final int FETCH = 5_000;
  private static final int DIGEST = 16;

  /**
   * Takes one person after the other; {@code digest} has 16 bytes, {@code own} is whether the
   * source that is asked about has brought them, {@code key} is of their worker number.
   */
  public interface Each {
    void person(String key, long id, byte[] digest, boolean absent, boolean own);
  }

  private KnownPeople() {}

  public static void each(DataSource dataSource, String source, Each each) {
    var connection = DataSourceUtils.getConnection(dataSource);
    try (var statement =
        connection.prepareStatement(
            "select worker_key, id, source_digest, absent_since is not null, source = ? from person",
            ResultSet.TYPE_FORWARD_ONLY,
            ResultSet.CONCUR_READ_ONLY)) {
      statement.setFetchSize(FETCH);
      statement.setString(1, source);
      try (var rows = statement.executeQuery()) {
        while (rows.next()) {
          each.person(
              rows.getString(1),
              rows.getLong(2),
              Arrays.copyOf(rows.getBytes(3), DIGEST),
              rows.getBoolean(4),
              rows.getBoolean(5));
        }
      }
    } catch (SQLException failed) {
      throw new IllegalStateException(
          "Who is known cannot be read: " + failed.getMessage(), failed);
    } finally {
      DataSourceUtils.releaseConnection(connection, dataSource);
    }
  }
}
