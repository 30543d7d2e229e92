package glenmoor.store;

import glenmoor.core.people.WorkerNumber;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * Finds what somebody has to mend in the records of an earlier version before they can be migrated.
 * Asked before the first migration is begun: MariaDB cannot take back a migration that fails
 * half-way.
 */
public final class BeforeMigration {
  private static final int SHOWN = 5;

  private BeforeMigration() {}

  /**
   * What stands in the way, as sentences that say what and whose; empty if nothing does.
   *
   * @param connection to the database as it is; it is only read
   */
  public static List<String> hindrances(Connection connection) throws SQLException {
    var hindrances = new ArrayList<String>();
    if (exists(connection, "person", "worker_number")
        && !exists(connection, "person", "worker_key")) {
      workerNumbers(connection, hindrances);
    }
    if (exists(connection, "account", "native_id")
        && !exists(connection, "account", "native_key")) {
      nativeIds(connection, hindrances);
    }
    return hindrances;
  }

  private static boolean exists(Connection connection, String table, String column)
      throws SQLException {
    try (var statement =
        connection.prepareStatement(
            "select 1 from information_schema.columns where table_schema = database() and table_name = ? and column_name = ?")) {
      statement.setString(1, table);
      statement.setString(2, column);
      try (var found = statement.executeQuery()) {
        return found.next();
      }
    }
  }

  private static void workerNumbers(Connection connection, List<String> hindrances)
      throws SQLException {
    Map<String, String> first = new HashMap<>();
    var same = new ArrayList<String>();
    var unreadable = new ArrayList<String>();
    try (var statement = connection.createStatement()) {
      statement.setFetchSize(1_000);
      try (var rows = statement.executeQuery("select worker_number from person")) {
        while (rows.next()) {
          var number = rows.getString(1);
          if (WorkerNumber.read(number).filter(read -> read.value().equals(number)).isEmpty()) {
            unreadable.add("“" + number + "”");
          }
          var other = first.putIfAbsent(WorkerNumber.key(number), number);
          if (other != null) {
            same.add(other + " and " + number);
          }
        }
      }
    }
    if (!same.isEmpty()) {
      hindrances.add(
          "%d worker numbers are taken for the same person's now, because they differ in case, width or spaces only: %s. Give one of each another worker_number in the table person, and in HR."
              .formatted(same.size(), some(same)));
    }
    if (!unreadable.isEmpty()) {
      hindrances.add(
          "%d worker numbers are not what worker numbers may be now (%s): %s. Change them in the table person, and in HR."
              .formatted(unreadable.size(), WorkerNumber.EXPECTED, some(unreadable)));
    }
  }

  private static void nativeIds(Connection connection, List<String> hindrances)
      throws SQLException {
    var shared = new ArrayList<String>();
    try (var statement = connection.createStatement();
        var rows =
            statement.executeQuery(
                """
                select a.application, a.native_id, group_concat(p.worker_number order by a.id separator ' and ')
                from account a
                join person p on p.id = a.person_id
                where a.native_id != ''
                group by a.application, a.native_id
                having count(*) > 1
                """)) {
      while (rows.next()) {
        shared.add(
            "%s in %s (%s)".formatted(rows.getString(2), rows.getString(1), rows.getString(3)));
      }
    }
    if (!shared.isEmpty()) {
      hindrances.add(
          "%d accounts in applications are recorded as those of more than one person: %s. Find out whose each is, and set native_id to '' in the table account for the others."
              .formatted(shared.size(), some(shared)));
    }
  }

  private static String some(List<String> all) {
    return String.join(", ", all.subList(0, Math.min(SHOWN, all.size())))
        + (all.size() > SHOWN ? " and others" : "");
  }
}
