package glenmoor.bench;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;

/**
 * The very rows that a feed keeps, as files, and {@code LOAD DATA LOCAL INFILE} of them into empty
 * tables of the same shape: with the same columns, keys and history, and nothing else.
 */
final class KeptRows {
  private static final List<String> TABLES = List.of("person", "event", "ledger_entry");
  private static final String FROM = "glenmoor_bench";
  private static final String INTO = "glenmoor_bench_rows";

  private KeptRows() {}

  /** Writes the rows there are now. */
  static void write(BenchmarkEnvironment environment) throws SQLException, IOException {
    try (var connection = environment.database(FROM)) {
      for (var table : TABLES) {
        var columns = columns(connection, table);
        try (var statement = connection.createStatement();
            var out = Files.newBufferedWriter(file(environment, table))) {
          statement.setFetchSize(1_000);
          try (var rows =
              statement.executeQuery("select " + String.join(", ", columns) + " from " + table)) {
            while (rows.next()) {
              for (var i = 1; i <= columns.size(); i++) {
                out.write(i == 1 ? "" : "\t");
                var value = rows.getObject(i);
                out.write(
                    switch (value) {
                      case null -> "\\N";
                      case byte[] bytes -> HexFormat.of().formatHex(bytes);
                      default ->
                          rows.getString(i)
                              .replace("\\", "\\\\")
                              .replace("\t", "\\t")
                              .replace("\n", "\\n");
                    });
              }
              out.write("\n");
            }
          }
        }
      }
    }
  }

  private static Path file(BenchmarkEnvironment environment, String table) {
    return environment.home().resolve("kept-" + table + ".tsv");
  }

  private static List<String> columns(Connection connection, String table) throws SQLException {
    var columns = new ArrayList<String>();
    try (var statement = connection.createStatement();
        var rows =
            statement.executeQuery(
                "select column_name from information_schema.columns where table_schema = '%s' and table_name = '%s' and is_generated = 'NEVER' and extra not like '%%INVISIBLE%%' order by ordinal_position"
                    .formatted(FROM, table))) {
      while (rows.next()) {
        columns.add(rows.getString(1));
      }
    }
    return columns;
  }

  /** Loads them into empty tables, one transaction for all; gives the seconds. */
  static double load(BenchmarkEnvironment environment) throws SQLException {
    environment.freshDatabase(INTO);
    try (var connection = environment.database(INTO);
        var statement = connection.createStatement()) {
      for (var table : TABLES) {
        statement.execute("create table %s like %s.%s".formatted(table, FROM, table));
      }
      connection.setAutoCommit(false);
      var start = System.nanoTime();
      for (var table : TABLES) {
        var names = new ArrayList<String>();
        var sets = new ArrayList<String>();
        for (var column : columns(connection, table)) {
          var digest = column.equals("source_digest");
          names.add(digest ? "@hex" : column);
          if (digest) {
            sets.add(column + " = unhex(@hex)");
          }
        }
        statement.execute(
            "load data local infile '%s' into table %s character set utf8mb4 (%s)%s"
                .formatted(
                    file(environment, table),
                    table,
                    String.join(", ", names),
                    sets.isEmpty() ? "" : " set " + String.join(", ", sets)));
      }
      connection.commit();
      return (System.nanoTime() - start) / 1e9;
    }
  }
}
