package glenmoor.store;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.AccountMapper.AccountRow;
import glenmoor.store.provisioning.AccountMapper.HoldingRow;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.provisioning.OperationMapper.LaneRow;
import glenmoor.store.provisioning.OperationMapper.OperationRow;
import glenmoor.store.provisioning.OperationMapper.Taken;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import javax.sql.DataSource;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;

/** The outbox: lanes taken under a lease, in order, and given back. */
class OutboxStoreTest {
  private static final Instant NOW = Instant.parse("2027-03-01T06:00:00Z");
  private final OperationMapper operations = Database.get(OperationMapper.class);
  private final AccountMapper accounts = Database.get(AccountMapper.class);
  private final Bulk bulk = new Bulk(Database.get(DataSource.class));
  private final JdbcTemplate sql = new JdbcTemplate(Database.get(DataSource.class));
  private final TransactionTemplate transactions =
      new TransactionTemplate(Database.get(PlatformTransactionManager.class));

  @BeforeEach
  void lanes() {
    for (var table : List.of("operation", "lane", "holding", "account")) {
      sql.update("delete from " + table);
    }
    sql.update("delete from person where id > 900");
    for (var id : List.of(901L, 902L)) {
      sql.update(
          "insert into person (id, worker_number, name, search_name, facts, source, source_digest) values (?, ?, 'Una', 'una', '{}', 'hr', '')",
          id,
          "L-" + id);
      bulk.insert(
          "account",
          List.of(
              new AccountRow(
                  id,
                  id,
                  "directory",
                  "una" + id,
                  1,
                  "una" + id,
                  "",
                  "{}",
                  "enabled",
                  "none",
                  "",
                  null,
                  4)));
      bulk.insert(
          "operation",
          List.of(operation(id, 3, "add"), operation(id, 1, "create"), operation(id, 2, "add")));
      operations.due(List.of(new LaneRow(id, "directory", NOW)));
    }
  }

  private static OperationRow operation(long account, int sequence, String kind) {
    return new OperationRow(
        account * 10 + sequence,
        account,
        account,
        "directory",
        null,
        "test",
        sequence,
        kind,
        kind.equals("create"),
        "{}",
        "waiting",
        0,
        NOW,
        "",
        NOW,
        null,
        null,
        "");
  }

  private List<Long> take(Instant now, Instant leaseNow, int limit) {
    return transactions.execute(status -> {
      var taken = operations.takeableLanes("directory", now, leaseNow, limit);
      if (!taken.isEmpty()) {
        operations.lease(taken, "replica", leaseNow.plus(Duration.ofSeconds(30)));
      }
      return taken;
    });
  }

  private void record(long id, String state, String notBefore) {
    operations.record(
        "[{\"id\":%d,\"state\":\"%s\",\"attempts\":1,\"notBefore\":\"%s\",\"reason\":\"why\",\"sentAt\":\"2027-03-01 06:00:00.000001\",\"settledAt\":null,\"settledBy\":\"\"}]"
            .formatted(id, state, notBefore));
  }

  @Test
  void a_lane_is_taken_once_until_its_lease_runs_out() {
    assertThat(take(NOW, NOW, 1)).containsExactly(901L);
    assertThat(take(NOW, NOW, 5)).containsExactly(902L);
    assertThat(take(NOW, NOW, 5)).isEmpty();
    assertThat(take(NOW, NOW.plusSeconds(31), 5)).containsExactlyInAnyOrder(901L, 902L);
  }

  @Test
  void a_lanes_operations_come_in_order() {
    assertThat(operations.waiting(List.of(901L)))
        .extracting(Taken::sequence)
        .containsExactly(1, 2, 3);
  }

  @Test
  void a_lane_given_back_is_due_when_its_first_waiting_operation_is() {
    take(NOW, NOW, 1);
    record(9011, "confirmed", "2027-03-01 06:00:00");
    record(9012, "waiting", "2027-03-01 06:10:00");
    operations.release(List.of(901L), "replica");
    assertThat(take(NOW, NOW, 5)).containsExactly(902L);
    assertThat(take(NOW.plusSeconds(600), NOW, 5)).containsExactly(901L);
  }

  @Test
  void a_lane_whose_create_failed_waits_for_somebody() {
    take(NOW, NOW, 1);
    record(9011, "fault", "2027-03-01 06:00:00");
    operations.release(List.of(901L), "replica");
    assertThat(take(NOW.plusSeconds(86_400), NOW, 5)).containsExactly(902L);
  }

  @Test
  void a_lane_goes_on_past_a_right_that_was_refused() {
    take(NOW, NOW, 1);
    record(9011, "confirmed", "2027-03-01 06:00:00");
    record(9012, "fault", "2027-03-01 06:00:00");
    operations.release(List.of(901L), "replica");
    assertThat(take(NOW, NOW, 5)).contains(901L);
  }

  @Test
  void only_whoever_leased_a_lane_gives_it_back() {
    take(NOW, NOW, 1);
    operations.release(List.of(901L), "another replica");
    assertThat(take(NOW, NOW, 5)).containsExactly(902L);
  }

  @Test
  void the_first_sending_is_remembered_over_later_tries() {
    record(9011, "waiting", "2027-03-01 06:10:00");
    var first = operations.view(9011L);
    assertThat(first).isNotNull();
    assertThat(first.sentAt()).isEqualTo(Instant.parse("2027-03-01T06:00:00.000001Z"));
    assertThat(first.reason()).isEqualTo("why");
  }

  @Test
  void what_was_seen_is_written_for_many_at_once() {
    accounts.want(List.of(new HoldingRow(901L, "directory/crew", true, false, null)));
    accounts.seen(
        "[{\"id\":901,\"state\":\"enabled\",\"nativeId\":\"abc\"},{\"id\":902,\"state\":null,\"nativeId\":\"\"}]");
    accounts.held(
        "[{\"accountId\":901,\"entitlement\":\"directory/crew\",\"held\":1,\"at\":\"2027-03-01 06:00:00\"}]");
    assertThat(accounts.of(List.of(901L, 902L)))
        .extracting(AccountRow::seenState)
        .containsExactly("enabled", "none");
    assertThat(accounts.holdings(List.of(901L)))
        .singleElement()
        .satisfies(each -> {
          assertThat(each.held()).isTrue();
          assertThat(each.heldSince()).isEqualTo(NOW);
        });
  }
}
