package glenmoor.store;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.store.reconcile.ExpectedRows;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import javax.sql.DataSource;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;

/** What an application should have, read from the indexes. */
class ExpectedRowsTest {
  private final JdbcTemplate sql = new JdbcTemplate(Database.get(DataSource.class));
  private final ExpectedRows expected = new ExpectedRows(Database.get(DataSource.class));

  @BeforeEach
  void nothing() {
    sql.update("delete from holding");
  }

  private void holds(long account, String entitlement, boolean desired) {
    sql.update(
        "insert into holding (account_id, entitlement, desired) values (?, ?, ?)",
        account,
        entitlement,
        desired);
  }

  private List<Map.Entry<Long, String>> rights(String application) {
    var rights = new ArrayList<Map.Entry<Long, String>>();
    expected.rights(
        application, (account, entitlement) -> rights.add(Map.entry(account, entitlement)));
    return rights;
  }

  @Test
  void rights_are_those_of_one_application_whatever_others_are_called() {
    holds(1, "charts/read", true);
    holds(2, "charts/read", true);
    holds(2, "charts/~last", true);
    holds(3, "charts/read", false);
    // Names that lie before, between and after, in the order of their letters.
    for (var other : List.of("chart", "charts-2", "charts.old", "charts0", "chartsa", "charts_b")) {
      holds(4, other + "/read", true);
    }
    assertThat(rights("charts"))
        .containsExactlyInAnyOrder(
            Map.entry(1L, "charts/read"),
            Map.entry(2L, "charts/read"),
            Map.entry(2L, "charts/~last"));
    assertThat(rights("charts-2")).containsExactly(Map.entry(4L, "charts-2/read"));
    assertThat(rights("cha")).isEmpty();
  }

  @Test
  void what_somebody_had_once_is_no_right_any_more() {
    holds(1, "charts/read", true);
    sql.update("update holding set desired = false where account_id = 1");
    holds(2, "charts/read", true);
    sql.update("delete from holding where account_id = 2");
    assertThat(rights("charts")).isEmpty();
  }

  @Test
  void what_others_have_is_not_gone_through() {
    sql.update(
        "insert into holding (account_id, entitlement, desired) select seq, 'charts-2/read', true from seq_1_to_1000");
    holds(1, "charts/read", true);
    var read =
        new TransactionTemplate(Database.get(PlatformTransactionManager.class))
            .execute(status -> {
              var before = read();
              assertThat(rights("charts")).hasSize(1);
              return read() - before;
            });
    assertThat(read).isLessThan(100);
  }

  /** How many rows the database has read for this connection. */
  private long read() {
    return sql.queryForList("show session status like 'Handler_read%'").stream()
        .mapToLong(row -> Long.parseLong(String.valueOf(row.get("Value"))))
        .sum();
  }
}
