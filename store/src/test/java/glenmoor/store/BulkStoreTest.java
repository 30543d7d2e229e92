package glenmoor.store;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.File;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import javax.sql.DataSource;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.springframework.dao.DataIntegrityViolationException;
import org.springframework.dao.DuplicateKeyException;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;

/** Rows in bulk are taken as they are or not at all. */
class BulkStoreTest {
  private static final DataSource DATA = Database.get(DataSource.class);

  record Berth(Long id, String plainName, Boolean covered, @Nullable Instant freeAt) {}

  private final JdbcTemplate sql = new JdbcTemplate(DATA);
  private final Bulk bulk = new Bulk(DATA, Database.get(WriteSignal.class));
  private final TransactionTemplate transactions =
      new TransactionTemplate(Database.get(PlatformTransactionManager.class));

  @BeforeEach
  void table() {
    sql.execute("drop table if exists berth");
    sql.execute(
        "create table berth (id bigint primary key, plain_name varchar(12) not null, covered boolean not null, free_at datetime(6) null) default charset = utf8mb4");
  }

  private void insert(Berth... berths) {
    transactions.executeWithoutResult(status -> bulk.insert("berth", List.of(berths)));
  }

  private int rows() {
    return sql.queryForObject("select count(*) from berth", Integer.class);
  }

  @Test
  void a_component_is_the_column_of_its_name() {
    insert(
        new Berth(1L, "a\tb\\c\nd", true, Instant.parse("2027-03-01T05:55:00.123456Z")),
        new Berth(2L, "Østhavn", false, null));
    assertThat(sql.queryForList("select plain_name from berth order by id", String.class))
        .containsExactly("a\tb\\c\nd", "Østhavn");
    assertThat(
            sql.queryForList(
                "select concat(covered, ' ', coalesce(free_at, 'none')) from berth order by id",
                String.class))
        .containsExactly("1 2027-03-01 05:55:00.123456", "0 none");
  }

  @Test
  void no_rows_are_no_statement() {
    bulk.insert("there_is_no_such_table", List.of());
    assertThat(rows()).isZero();
  }

  @Test
  void a_broken_key_keeps_none_of_them() {
    insert(new Berth(1L, "one", true, null));
    assertThatThrownBy(
            () -> insert(new Berth(2L, "two", true, null), new Berth(1L, "again", true, null)))
        .isInstanceOf(DuplicateKeyException.class)
        .hasMessageContaining("Of 2 rows for berth, 1 could be kept");
    assertThat(rows()).isEqualTo(1);
  }

  @Test
  void a_value_that_does_not_fit_is_not_bent() {
    assertThatThrownBy(() -> insert(new Berth(1L, "longer than it may be", true, null)))
        .isInstanceOf(DataIntegrityViolationException.class)
        .hasMessageContaining("plain_name");
    assertThat(rows()).isZero();
  }

  @Test
  void more_than_fits_into_memory_waits_in_a_file() {
    try (var rows = new BulkRows("berth", List.of("id", "plain_name", "covered"))) {
      for (var i = 0; i < 100_000; i++) {
        rows.add(i, "berth " + i, 0);
      }
      assertThat(rows.rows()).isEqualTo(100_000);
      assertThat(temporary()).as("a kill would leave nothing of it").isEmpty();
      transactions.executeWithoutResult(status -> {
        rows.send(DATA);
        status.setRollbackOnly();
      });
      assertThat(rows()).isZero();
      transactions.executeWithoutResult(status -> rows.send(DATA));
    }
    assertThat(rows()).isEqualTo(100_000);
    assertThat(sql.queryForObject("select sum(id) from berth", Long.class))
        .isEqualTo(4_999_950_000L);
  }

  private static List<String> temporary() {
    var left = new File(System.getProperty("java.io.tmpdir")).list((d, f) -> f.endsWith(".rows"));
    return left == null ? List.of() : List.of(left);
  }

  @Test
  void what_was_taken_back_is_not_sent() {
    try (var rows = new BulkRows("berth", List.of("id", "plain_name", "covered"))) {
      for (var i = 0; i < 60_000; i++) {
        rows.add(i, "wrong " + i, 0);
      }
      rows.startOver();
      rows.add(7, "right", 1);
      transactions.executeWithoutResult(status -> rows.send(DATA));
    }
    assertThat(sql.queryForList("select plain_name from berth", String.class))
        .isEqualTo(new ArrayList<>(List.of("right")));
  }
}
