package glenmoor.store;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.DriverManager;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import javax.sql.DataSource;
import org.jspecify.annotations.Nullable;
import org.mybatis.spring.annotation.MapperScan;
import org.springframework.boot.SpringApplication;
import org.springframework.boot.SpringBootConfiguration;
import org.springframework.boot.WebApplicationType;
import org.springframework.boot.autoconfigure.EnableAutoConfiguration;
import org.springframework.context.ConfigurableApplicationContext;
import org.springframework.context.annotation.Import;
import org.springframework.jdbc.core.ConnectionCallback;
import org.springframework.jdbc.core.JdbcTemplate;

/**
 * The real MariaDB that the test script started, with an empty database for the module whose tests
 * run, and for each process of them.
 */
@SpringBootConfiguration
@EnableAutoConfiguration
@MapperScan("glenmoor.store")
@Import(WriteSignal.class)
public class Database {
  private static final String NAME =
      "glenmoor_%s%s"
          .formatted(
              Path.of(System.getProperty("basedir", "store")).getFileName(),
              System.getProperty("fork", ""));
  private static final ConfigurableApplicationContext CONTEXT = start();

  private static ConfigurableApplicationContext start() {
    var port = System.getenv("GLENMOOR_TEST_DATABASE_PORT");
    if (port == null) {
      throw new IllegalStateException(
          "GLENMOOR_TEST_DATABASE_PORT is not set: run the tests with ./glenmoor test.");
    }
    try {
      var password =
          Files.readString(Path.of(System.getenv("GLENMOOR_TEST_DATABASE_PASSWORD_FILE"))).strip();
      var url = "jdbc:mariadb://127.0.0.1:" + port + "/";
      try (var connection = DriverManager.getConnection(url, "glenmoor", password);
          var statement = connection.createStatement()) {
        statement.execute("drop database if exists " + NAME);
        statement.execute("create database " + NAME + " character set utf8mb4");
      }
      var application = new SpringApplication(Database.class);
      application.setWebApplicationType(WebApplicationType.NONE);
      application.setDefaultProperties(
          Map.of(
              "spring.datasource.url",
                  url + NAME + "?useBulkStmts=true&timezone=UTC&allowLocalInfile=true",
              "spring.datasource.username", "glenmoor",
              "spring.datasource.password", password,
              "spring.datasource.hikari.transaction-isolation", "TRANSACTION_READ_COMMITTED",
              "mybatis.configuration.map-underscore-to-camel-case", "true",
              "mybatis.configuration.arg-name-based-constructor-auto-mapping", "true",
              "mybatis.configuration.local-cache-scope", "statement",
              "spring.main.banner-mode", "off",
              "logging.level.root", "error"));
      return application.run();
    } catch (Exception failed) {
      throw new IllegalStateException(failed);
    }
  }

  /** The database, its transactions and its mappers. */
  public static ConfigurableApplicationContext context() {
    return CONTEXT;
  }

  public static <T> T get(Class<T> type) {
    return CONTEXT.getBean(type);
  }

  /** As if nothing had ever been in it: not even the record through time. */
  public static void empty() {
    var sql = new JdbcTemplate(get(DataSource.class));
    // Only what was written to: to look at all of it takes longer than most tests.
    var written = written(sql);
    sql.execute(
        (ConnectionCallback<@Nullable Object>)
            connection -> {
              try (var statement = connection.createStatement()) {
                statement.execute("set foreign_key_checks = 0");
                connection.setAutoCommit(false);
                for (var table : written) {
                  statement.execute("delete from " + table.name());
                  if (table.versioned()) {
                    statement.execute("delete history from " + table.name());
                  }
                }
                connection.commit();
                connection.setAutoCommit(true);
                statement.execute("set foreign_key_checks = 1");
              }
              return null;
            });
  }

  private record Written(String name, boolean versioned) {}

  private static List<Written> written(JdbcTemplate sql) {
    var kept = List.of("flyway_schema_history", "replica_number", "definition_revision");
    var asked =
        sql.query(
            "select table_name, table_type from information_schema.tables where table_schema = database()",
            (row, number) -> {
              var table = row.getString(1);
              var versioned = row.getString(2).equals("SYSTEM VERSIONED");
              return kept.contains(table)
                  ? ""
                  : "select '%s' as name, %d as versioned from dual where exists (select 1 from %s%s)"
                      .formatted(
                          table, versioned ? 1 : 0, table, versioned ? " for system_time all" : "");
            });
    return sql.query(
        asked.stream().filter(each -> !each.isEmpty()).collect(Collectors.joining(" union all ")),
        (row, number) -> new Written(row.getString(1), row.getBoolean(2)));
  }
}
