package glenmoor.engine.provisioning;

import static glenmoor.engine.House.BO;
import static glenmoor.engine.House.UNA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.engine.House;
import glenmoor.engine.InTheHouse;
import glenmoor.engine.Refused;
import glenmoor.store.Database;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.provisioning.OperationMapper.OperationSearch;
import java.time.Duration;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

/** Operations on their way to an application that does not always do as it should. */
class CouriersTest extends InTheHouse {
  private void fault() {
    House.eventually(
        () -> house.number("select count(*) from operation where state = 'fault'") > 0);
  }

  private long faulted() {
    return house.number("select min(id) from operation where state = 'fault'");
  }

  private String reasonOf(long operation) {
    return house.operations.show(operation, House.ISA).reason();
  }

  private String health() {
    return house.applications.list(House.ISA).getFirst().health();
  }

  @Test
  void what_was_planned_is_there_and_is_recorded_as_seen() {
    house.load(UNA, BO);
    house.sent();
    assertThat(house.user("W-1").path("userName").asString()).isEqualTo("kerrowu");
    assertThat(house.groups("W-1")).containsExactlyInAnyOrder("Charts", "Westholm");
    var account = house.access.accounts("W-1", House.ISA).getFirst();
    assertThat(account.seenState()).isEqualTo("enabled");
    assertThat(account.holdings()).allSatisfy(holding -> assertThat(holding.held()).isTrue());
    assertThat(health()).isEqualTo("well");
    assertThat(
            house.number(
                "select count(*) from lane where due_at is not null or leased_by is not null"))
        .isZero();
  }

  @Test
  void each_step_of_an_account_is_taken_in_order() {
    house.load(UNA);
    house.sent();
    assertThat(
            house.sql.queryForList(
                "select kind from operation order by sent_at, sequence", String.class))
        .containsExactly("create", "add", "add");
    assertThat(house.number("select count(*) from ledger_entry where what = 'operation-confirmed'"))
        .isEqualTo(3);
  }

  @Test
  void while_an_application_is_down_everything_waits_and_nothing_is_lost() {
    house.mood("{\"mode\":\"down\"}");
    house.load(UNA, BO);
    house.start();
    House.eventually(() -> health().equals("unwell"));
    assertThat(house.number("select count(*) from operation where state != 'waiting'")).isZero();
    house.mood("{\"mode\":\"well\"}");
    house.clock.moveTo(House.MORNING.plusSeconds(3_600));
    house.couriers.ring();
    house.settled();
    assertThat(health()).isEqualTo("well");
    assertThat(house.groups("W-2")).containsExactlyInAnyOrder("Charts", "Slip drawings");
  }

  @Test
  void one_that_is_busy_is_asked_again_when_it_said() {
    house.mood("{\"mode\":\"busy\"}");
    house.load(UNA);
    house.start();
    House.eventually(() -> house.number("select coalesce(max(attempts), 0) from operation") > 0);
    assertThat(
            house.number(
                "select count(*) from operation where attempts > 0 and not_before > created_at"))
        .isPositive();
    house.mood("{\"mode\":\"well\"}");
    house.clock.moveTo(House.MORNING.plusSeconds(3_600));
    house.couriers.ring();
    house.settled();
    assertThat(house.user("W-1").path("active").asBoolean()).isTrue();
  }

  @Test
  void a_refusal_is_a_fault_at_once_and_can_be_tried_again() {
    house.mood("{\"mode\":\"refuse\",\"reason\":\"no seat is free\"}");
    house.load(UNA);
    house.start();
    fault();
    assertThat(reasonOf(faulted())).contains("no seat is free");
    assertThat(house.user("W-1").isMissingNode()).isTrue();
    assertThat(
            house.operations.search(
                new OperationSearch("waiting", null, null, "W-1", null, null, 9), House.ISA))
        .as("what comes after it says what it waits for")
        .hasSize(2)
        .allSatisfy(
            each -> assertThat(each.reason()).isEqualTo("behind operation %d, a fault", faulted()));
    house.mood("{\"mode\":\"well\"}");
    assertThat(house.retries.retry(faulted(), House.ISA).state()).isEqualTo("superseded");
    house.settled();
    assertThat(house.groups("W-1")).containsExactlyInAnyOrder("Charts", "Westholm");
    assertThat(
            house.number(
                "select count(*) from operation where state not in ('confirmed', 'superseded')"))
        .isZero();
  }

  @Test
  void one_that_forgets_is_found_out_by_reading_back() {
    house.mood("{\"mode\":\"forget\"}");
    house.load(UNA);
    house.start();
    House.eventually(() -> house.number("select coalesce(max(attempts), 0) from operation") > 0);
    assertThat(house.number("select count(*) from operation where state = 'confirmed'")).isZero();
    assertThat(house.access.accounts("W-1", House.ISA).getFirst().seenState()).isEqualTo("none");
  }

  @Test
  void a_group_that_is_not_there_faults_alone() {
    house.define(
        "entitlement: chartshare/attic\ntechnical: Attic\n---\npackage: attic\nentitlements: [chartshare/attic]\n---\nbirthright: attic\npackage: attic\nwhere: 'true'\n",
        false);
    house.load(UNA);
    house.start();
    fault();
    House.eventually(() -> house.groups("W-1").size() == 2);
    assertThat(reasonOf(faulted())).contains("There is no group Attic");
    house.faults.giveUp(faulted(), "the attic was torn down", null, House.ISA);
    assertThat(
            house.happened(
                "operation:" + house.number("select id from operation where state = 'given-up'")))
        .containsExactly("operation-given-up");
  }

  @Test
  void what_was_done_by_hand_counts_as_seen() {
    house.define(
        "entitlement: chartshare/attic\ntechnical: Attic\n---\npackage: attic\nentitlements: [chartshare/attic]\n---\nbirthright: attic\npackage: attic\nwhere: 'true'\n",
        false);
    house.load(UNA);
    house.start();
    fault();
    var fault = faulted();
    assertThatThrownBy(() -> house.faults.byHand(fault, " ", House.ISA))
        .isInstanceOf(Refused.class);
    var view = house.faults.byHand(fault, "added in the admin page", House.ISA);
    assertThat(view.state()).isEqualTo("by-hand");
    assertThat(view.settledBy()).isEqualTo("isa");
    assertThat(house.access.why("W-1", "chartshare/attic", House.ISA).held()).isTrue();
    assertThatThrownBy(() -> house.retries.retry(fault, House.ISA)).isInstanceOf(Refused.class);
  }

  @Test
  void an_account_that_is_there_already_is_adopted_and_not_doubled() {
    house.load(UNA);
    house.sent();
    var id = house.user("W-1").path("id").asString();
    // As after a crash between doing and recording.
    house.sql.update(
        "update operation set state = 'waiting', settled_at = null where kind = 'create'");
    house.sql.update("update lane set due_at = '2027-03-01'");
    house.couriers.ring();
    house.settled();
    assertThat(house.user("W-1").path("id").asString()).isEqualTo(id);
  }

  @Test
  void two_replicas_do_nothing_twice() {
    var rows =
        IntStream.range(0, 60)
            .mapToObj("W-%1$d,Kai,Dock%1$d,Deck,Westholm,,2020-01-01,,,"::formatted)
            .toArray(String[]::new);
    house.load(rows);
    try (var other = house.anotherReplica()) {
      other.start();
      house.sent();
    }
    assertThat(house.number("select count(*) from ledger_entry where what = 'operation-confirmed'"))
        .isEqualTo(180);
    assertThat(house.number("select count(*) from operation where state = 'confirmed'"))
        .isEqualTo(180);
    assertThat(house.user("W-59").path("userName").asString()).isEqualTo("dock59k");
  }

  @Test
  void a_lane_whose_replica_died_is_taken_over_once_its_lease_is_over() {
    house.load(UNA);
    house.sql.update("update lane set leased_by = 'dead', leased_until = '2099-01-01'");
    house.start();
    house.couriers.ring();
    assertThat(house.number("select count(*) from operation where state = 'waiting'")).isEqualTo(3);
    house.sql.update("update lane set leased_until = '2020-01-01'");
    house.couriers.ring();
    house.settled();
    assertThat(house.groups("W-1")).hasSize(2);
  }

  private Couriers impatient() {
    var operation = Database.get(OperationMapper.class);
    var account = Database.get(AccountMapper.class);
    var notes =
        new Recorder(
            operation, account, Database.get(PersonMapper.class), house.ledger, house.transactions);
    return new Couriers(
        operation,
        account,
        house.applications,
        notes,
        new Secrets(new byte[32]),
        house.transactions,
        house.clock,
        new Couriers.Pace(
            Duration.ofSeconds(5),
            Duration.ofMillis(100),
            Duration.ofSeconds(5),
            Duration.ofSeconds(5),
            Duration.ofMillis(300)));
  }

  @Test
  void a_lane_that_is_stuck_is_stopped_and_left_to_another_worker() {
    house.load(UNA);
    house.mood("{\"mode\":\"half\"}");
    try (var impatient = impatient()) {
      impatient.start();
      House.eventually(() -> reasonOf(created()).contains("Stopped while waiting"));
      House.eventually(() -> impatient.inHand() == 0);
      house.mood("{\"mode\":\"well\"}");
      house.clock.moveTo(House.MORNING.plusSeconds(3_600));
    }
    house.sent();
    assertThat(house.groups("W-1")).hasSize(2);
  }

  @Test
  void health_that_cannot_be_kept_stops_no_work_and_is_kept_later() {
    house.load(UNA);
    house.sql.execute("rename table application_health to away");
    try (var impatient = impatient()) {
      impatient.start();
      house.settled();
    } finally {
      house.sql.execute("rename table away to application_health");
    }
    assertThat(house.groups("W-1")).hasSize(2);
    house.applications.checkHealth();
    House.eventually(() -> health().equals("well"));
  }

  private long created() {
    return house.number("select id from operation where kind = 'create'");
  }

  @Test
  void nothing_is_sent_while_the_definition_holds_it() {
    house.define(
        House.skerryLine().replace("name: Chartshare", "name: Chartshare\nparallel: 0"), true);
    house.load(UNA);
    house.start();
    house.couriers.ring();
    assertThat(house.applications.list(House.ISA).getFirst().sentence()).contains("parallel: 0");
    assertThat(house.number("select count(*) from operation where sent_at is not null")).isZero();
    house.define(House.skerryLine(), true);
    house.settled();
    assertThat(house.groups("W-1")).hasSize(2);
  }

  @Test
  void a_passcode_is_sent_told_once_and_kept_nowhere() {
    house.load(UNA);
    house.sent();
    var issued = house.operations.issuePasscode("W-1", "chartshare", House.ISA);
    assertThat(issued.passcode()).matches("([a-z2-9]{4}-){3}[a-z2-9]{4}");
    house.settled();
    assertThat(
            house.sql.queryForList(
                "select payload from operation where kind = 'set-password'", String.class))
        .containsExactly("{\"sealed\":\"\"}");
    assertThat(house.sql.queryForList("select entry from ledger_entry", String.class))
        .noneMatch(entry -> entry.contains(issued.passcode()));
  }

  @Test
  void a_move_reaches_the_application() {
    house.load(UNA, BO);
    house.sent();
    house.load(UNA.replace("Westholm", "Hallow Quay"), BO.replace("Hallow Quay", "Westholm"));
    house.settled();
    assertThat(house.groups("W-1")).containsExactly("Charts");
    assertThat(house.groups("W-2"))
        .containsExactlyInAnyOrder("Charts", "Slip drawings", "Westholm");
    assertThat(house.user("W-1").path("active").asBoolean()).isTrue();
  }

  @Test
  void a_leaver_is_shut_there_too_and_deleted_in_the_end() {
    house.load(UNA, BO);
    house.sent();
    house.load(UNA);
    house.settled();
    assertThat(house.user("W-2").path("active").asBoolean()).isFalse();
    assertThat(house.groups("W-2")).isEmpty();
    house.at("2027-04-05T06:00:00Z");
    house.settled();
    assertThat(house.user("W-2").isMissingNode()).isTrue();
  }
}
