package glenmoor.store;

import static org.assertj.core.api.Assertions.assertThat;

import java.sql.Connection;
import java.sql.SQLException;
import javax.sql.DataSource;
import org.flywaydb.core.Flyway;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.springframework.jdbc.datasource.DelegatingDataSource;

/** Records of the first version, brought to the present form in a database of their own. */
class BeforeMigrationTest {
  private static final String FIRST_VERSION = "009";
  private static final String NAME = "glenmoor_store_before";

  private final DataSource there =
      new DelegatingDataSource(Database.get(DataSource.class)) {
        @Override
        public Connection getConnection() throws SQLException {
          var connection = super.getConnection();
          connection.setCatalog(NAME);
          return connection;
        }
      };
  private Connection connection;
  private String usual = "";

  @BeforeEach
  void records_of_the_first_version() throws SQLException {
    connection = Database.get(DataSource.class).getConnection();
    usual = connection.getCatalog();
    run("drop database if exists " + NAME);
    run("create database " + NAME + " character set utf8mb4");
    connection.setCatalog(NAME);
    flyway(FIRST_VERSION).migrate();
  }

  @AfterEach
  void away() throws SQLException {
    run("drop database " + NAME);
    connection.setCatalog(usual);
    connection.close();
  }

  private Flyway flyway(String to) {
    return Flyway.configure()
        .dataSource(there)
        .locations("classpath:db/migration")
        .target(to)
        .load();
  }

  private void run(String sql) throws SQLException {
    try (var statement = connection.createStatement()) {
      statement.execute(sql);
    }
  }

  private int number(String sql) throws SQLException {
    try (var statement = connection.createStatement();
        var result = statement.executeQuery(sql)) {
      result.next();
      return result.getInt(1);
    }
  }

  private void person(long id, String worker) throws SQLException {
    run(
        "insert into person (id, worker_number, name, search_name, facts, source, source_digest) values (%d, '%s', 'Una', 'una', '{}', 'people-office', repeat('x', 16))"
            .formatted(id, worker));
  }

  private void account(long id, String nativeId) throws SQLException {
    run(
        "insert into account (id, person_id, application, base_name, number, name, native_id, state, seen_state, container, attributes, next_sequence) values (%1$d, %1$d, 'directory', 'u', %1$d, 'u%1$d', '%2$s', 'enabled', 'enabled', '', '{}', 1)"
            .formatted(id, nativeId));
  }

  @Test
  void an_empty_database_and_sound_records_stand_in_nobodys_way() throws SQLException {
    assertThat(BeforeMigration.hindrances(connection)).isEmpty();
    person(1, "S000107");
    account(1, "uid=u1");
    person(2, "S000108");
    account(2, "");
    run(
        "insert into event (id, person_id, kind, effective_on, feed_id, changes, detected_at) values (8, 1, 'joiner', '2027-03-01', 5, '[]', '2027-03-01'), (9, 1, 'joiner', '2027-03-01', 5, '[]', '2027-03-01')");
    assertThat(BeforeMigration.hindrances(connection)).isEmpty();
    flyway("latest").migrate();
    assertThat(number("select count(*) from person where worker_key = 's000107'")).isEqualTo(1);
    assertThat(number("select count(*) from event")).as("once is enough").isEqualTo(1);
    assertThat(BeforeMigration.hindrances(connection)).isEmpty();
  }

  @Test
  void worker_numbers_that_are_the_same_now_are_named_before_anything_is_changed()
      throws SQLException {
    person(1, "S000107");
    person(2, "s000107");
    person(3, "S/9");
    assertThat(BeforeMigration.hindrances(connection))
        .anySatisfy(each -> assertThat(each).contains("S000107 and s000107"))
        .anySatisfy(each -> assertThat(each).contains("“S/9”", "letters A to Z"))
        .hasSize(2);
    run("update person set worker_number = concat('N-', id) where id > 1");
    assertThat(BeforeMigration.hindrances(connection)).isEmpty();
    flyway("latest").migrate();
  }

  @Test
  void an_account_that_two_people_share_is_named_with_both() throws SQLException {
    person(1, "S000107");
    account(1, "uid=brael");
    person(2, "S000108");
    account(2, "uid=brael");
    assertThat(BeforeMigration.hindrances(connection))
        .singleElement()
        .asString()
        .contains("uid=brael in directory (S000107 and S000108)");
  }
}
