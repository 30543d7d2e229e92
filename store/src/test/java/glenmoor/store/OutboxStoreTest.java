package glenmoor.store;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.AccountMapper.AccountRow;
import glenmoor.store.provisioning.AccountMapper.HoldingRow;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.provisioning.OperationMapper.LaneRow;
import glenmoor.store.provisioning.OperationMapper.OperationRow;
import glenmoor.store.provisioning.OperationMapper.Taken;
import java.time.Instant;
import java.util.List;
import javax.sql.DataSource;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.springframework.dao.DuplicateKeyException;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;

/** The outbox: lanes taken under a lease, in order, and given back. */
class OutboxStoreTest {
  private static final Instant NOW = Instant.parse("2027-03-01T06:00:00Z");
  private final OperationMapper operations = Database.get(OperationMapper.class);
  private final AccountMapper accounts = Database.get(AccountMapper.class);
  private final Bulk bulk =
      new Bulk(Database.get(DataSource.class), Database.get(WriteSignal.class));
  private final JdbcTemplate sql = new JdbcTemplate(Database.get(DataSource.class));
  private final TransactionTemplate transactions =
      new TransactionTemplate(Database.get(PlatformTransactionManager.class));

  @BeforeEach
  void lanes() {
    for (var table : List.of("operation", "lane", "holding", "account_name", "account")) {
      sql.update("delete from " + table);
    }
    sql.update("delete from person where id > 900");
    for (var id : List.of(901L, 902L)) {
      sql.update(
          "insert into person (id, worker_number, worker_key, name, search_name, facts, source, source_digest) values (?, ?, ?, 'Una', 'una', '{}', 'hr', '')",
          id,
          "L-" + id,
          "l-" + id);
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
                  "",
                  "{}",
                  null,
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
        "",
        0L);
  }

  private static final long TOKEN = 4711;

  private List<Long> take(Instant now, int limit) {
    return transactions.execute(status -> {
      var taken = operations.takeableLanes("directory", now, limit);
      if (!taken.isEmpty()) {
        operations.lease(taken, "replica", TOKEN, 30);
      }
      return taken;
    });
  }

  private void leaseRanOut() {
    sql.update("update lane set leased_until = '2020-01-01'");
  }

  private void record(long id, String state, String notBefore) {
    operations.record(
        "[{\"id\":%d,\"state\":\"%s\",\"attempts\":1,\"notBefore\":\"%s\",\"reason\":\"why\",\"sentAt\":\"2027-03-01 06:00:00.000001\",\"settledAt\":null,\"settledBy\":\"\",\"supersededBy\":0}]"
            .formatted(id, state, notBefore));
  }

  @Test
  void a_lane_is_taken_once_until_its_lease_runs_out() {
    assertThat(take(NOW, 1)).containsExactly(901L);
    assertThat(take(NOW, 5)).containsExactly(902L);
    assertThat(take(NOW, 5)).isEmpty();
    leaseRanOut();
    assertThat(take(NOW, 5)).containsExactlyInAnyOrder(901L, 902L);
  }

  @Test
  void applications_with_something_due_are_told_by_one_question() {
    assertThat(operations.applicationsDue(NOW.minusSeconds(1))).isEmpty();
    assertThat(operations.applicationsDue(NOW)).containsExactly("directory");
    take(NOW, 5);
    for (var account : List.of(901L, 902L)) {
      for (var sequence = 1; sequence <= 3; sequence++) {
        record(account * 10 + sequence, "confirmed", "2027-03-01 06:00:00");
      }
    }
    operations.release(List.of(901L, 902L), List.of(TOKEN));
    assertThat(operations.applicationsDue(NOW.plusSeconds(600))).isEmpty();
    assertThat(
            sql.queryForList(
                "explain select application, min(due_at) as due from lane group by application"))
        .as("from the index alone")
        .allMatch(row -> "lane_due".equals(row.get("key")));
  }

  @Test
  void a_lanes_operations_come_in_order() {
    assertThat(operations.waiting(List.of(901L)))
        .extracting(Taken::sequence)
        .containsExactly(1, 2, 3);
  }

  @Test
  void a_lane_given_back_is_due_when_its_first_waiting_operation_is() {
    take(NOW, 1);
    record(9011, "confirmed", "2027-03-01 06:00:00");
    record(9012, "waiting", "2027-03-01 06:10:00");
    operations.release(List.of(901L), List.of(TOKEN));
    assertThat(take(NOW, 5)).containsExactly(902L);
    assertThat(take(NOW.plusSeconds(600), 5)).containsExactly(901L);
  }

  @Test
  void a_lane_whose_create_failed_waits_for_somebody() {
    take(NOW, 1);
    record(9011, "fault", "2027-03-01 06:00:00");
    operations.release(List.of(901L), List.of(TOKEN));
    assertThat(take(NOW.plusSeconds(86_400), 5)).containsExactly(902L);
  }

  @Test
  void a_lane_goes_on_past_a_right_that_was_refused() {
    take(NOW, 1);
    record(9011, "confirmed", "2027-03-01 06:00:00");
    record(9012, "fault", "2027-03-01 06:00:00");
    operations.release(List.of(901L), List.of(TOKEN));
    assertThat(take(NOW, 5)).contains(901L);
  }

  @Test
  void a_lane_whose_create_failed_stays_held_when_more_is_planned_for_it() {
    take(NOW, 1);
    record(9011, "fault", "2027-03-01 06:00:00");
    operations.release(List.of(901L), List.of(TOKEN));
    operations.due(List.of(new LaneRow(901L, "directory", NOW)));
    assertThat(take(NOW.plusSeconds(86_400), 5)).containsExactly(902L);
  }

  @Test
  void a_lease_that_is_renewed_does_not_run_out() {
    take(NOW, 1);
    leaseRanOut();
    operations.renew(List.of(901L), List.of(TOKEN), 30);
    assertThat(take(NOW, 5)).containsExactly(902L);
    leaseRanOut();
    operations.renew(List.of(901L), List.of(TOKEN + 1), 30);
    assertThat(take(NOW, 5)).as("by another's token it does").contains(901L);
  }

  @Test
  void what_is_settled_is_not_written_again() {
    record(9011, "confirmed", "2027-03-01 06:00:00");
    record(9011, "fault", "2027-03-01 06:00:00");
    assertThat(operations.view(9011L).state()).isEqualTo("confirmed");
  }

  @Test
  void a_native_id_belongs_to_one_account_whatever_its_length() {
    var id = "x".repeat(1_500);
    accounts.seen(seen(901, id));
    assertThat(accounts.ownerOf("directory", id)).isEqualTo(901L);
    assertThat(accounts.owners(seen(902, id))).containsExactly(new AccountMapper.Owner(901L, 902L));
    assertThatThrownBy(() -> accounts.seen(seen(902, id)))
        .isInstanceOf(DuplicateKeyException.class);
  }

  private static String seen(long account, String id) {
    return "[{\"id\":%d,\"application\":\"directory\",\"state\":\"enabled\",\"name\":\"una \\\"q\\\"\",\"container\":\"\",\"attributes\":\"{\\\"cn\\\":\\\"Úna \\\\\\\"Q\\\\\\\"\\\"}\",\"nativeId\":\"%s\"}]"
        .formatted(account, id);
  }

  @Test
  void what_was_seen_is_kept_letter_by_letter() {
    accounts.seen(seen(901, "abc"));
    var row = accounts.of(List.of(901L)).getFirst();
    assertThat(row.seenName()).isEqualTo("una \"q\"");
    assertThat(row.seenAttributes()).isEqualTo("{\"cn\":\"Úna \\\"Q\\\"\"}");
  }

  @Test
  void a_name_is_one_accounts_until_it_was_free_long_enough() {
    sql.update("delete from account_name");
    var names =
        "[{\"application\":\"directory\",\"key\":\"una\",\"name\":\"Una\",\"baseName\":\"una\",\"number\":1,\"account\":%d,\"cutoff\":\"%s\"}]";
    accounts.takeNames(names.formatted(901, "2026-03-01 06:00:00"));
    accounts.freeNames(names.formatted(901, "2026-03-01 06:00:00"), NOW);
    accounts.clearNames(names.formatted(902, "2027-02-01 06:00:00"));
    assertThatThrownBy(() -> accounts.takeNames(names.formatted(902, "2027-02-01 06:00:00")))
        .isInstanceOf(DuplicateKeyException.class);
    accounts.clearNames(names.formatted(902, "2027-04-01 06:00:00"));
    accounts.takeNames(names.formatted(902, "2027-04-01 06:00:00"));
    assertThat(accounts.holders("directory", List.of("una"), NOW))
        .containsExactly(new AccountMapper.Holder("una", 902L));
  }

  @Test
  void only_whoever_leased_a_lane_gives_it_back() {
    take(NOW, 1);
    operations.release(List.of(901L), List.of(TOKEN + 1));
    assertThat(take(NOW, 5)).containsExactly(902L);
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
    accounts.desire(List.of(new HoldingRow(901L, "directory/crew", true, false, null)));
    accounts.seen(
        "[{\"id\":901,\"application\":\"directory\",\"state\":\"enabled\",\"nativeId\":\"abc\"},{\"id\":902,\"application\":\"directory\",\"state\":null,\"nativeId\":null}]");
    accounts.observe(
        "[{\"accountId\":901,\"entitlement\":\"directory/crew\",\"observed\":1,\"at\":\"2027-03-01 06:00:00\"}]");
    assertThat(accounts.of(List.of(901L, 902L)))
        .extracting(AccountRow::seenState)
        .containsExactly("enabled", "none");
    assertThat(accounts.holdings(List.of(901L)))
        .singleElement()
        .satisfies(each -> {
          assertThat(each.observed()).isTrue();
          assertThat(each.observedSince()).isEqualTo(NOW);
        });
  }
}
