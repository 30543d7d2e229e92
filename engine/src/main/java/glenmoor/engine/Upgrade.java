package glenmoor.engine;

import glenmoor.store.BeforeMigration;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;

/** Asked before the records of an earlier version are brought to the form of this one. */
public final class Upgrade {
  private Upgrade() {}

  /**
   * What has to be mended by hand first, a sentence each, with names; nothing is changed.
   *
   * @throws SQLException if the database does not answer
   */
  public static List<String> hindrances(Connection connection) throws SQLException {
    return BeforeMigration.hindrances(connection);
  }
}
