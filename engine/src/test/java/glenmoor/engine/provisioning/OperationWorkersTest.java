package glenmoor.engine.provisioning;

import static glenmoor.engine.TestEnvironment.BO;
import static glenmoor.engine.TestEnvironment.UNA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.provisioning.OperationSearch;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import glenmoor.store.Database;
import glenmoor.store.WriteSignal;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.provisioning.WorkerReplicaMapper;
import java.time.Duration;
import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

/** Operations on their way to an application that does not always do as it should. */
class OperationWorkersTest extends EngineTest {
  private void fault() {
    TestEnvironment.eventually(
        () -> environment.number("select count(*) from operation where state = 'fault'") > 0);
  }

  private long faulted() {
    return environment.number("select min(id) from operation where state = 'fault'");
  }

  private String reasonOf(long operation) {
    return environment.operations.show(operation, TestEnvironment.ISA).reason();
  }

  private String health() {
    return environment.applications.list(TestEnvironment.ISA).getFirst().health();
  }

  @Test
  void what_was_planned_is_there_and_is_recorded_as_seen() {
    environment.load(UNA, BO);
    environment.sent();
    assertThat(environment.user("W-1").path("userName").asString()).isEqualTo("kerrowu");
    assertThat(environment.groups("W-1")).containsExactlyInAnyOrder("Charts", "Westholm");
    var account = environment.access.accounts("W-1", TestEnvironment.ISA).getFirst();
    assertThat(account.seenState()).isEqualTo("enabled");
    assertThat(account.holdings()).allSatisfy(holding -> assertThat(holding.observed()).isTrue());
    assertThat(health()).isEqualTo("well");
    assertThat(
            environment.number(
                "select count(*) from lane where due_at is not null or leased_by is not null"))
        .isZero();
  }

  @Test
  void each_step_of_an_account_is_taken_in_order() {
    environment.load(UNA);
    environment.sent();
    assertThat(
            environment.sql.queryForList(
                "select kind from operation order by sent_at, sequence", String.class))
        .containsExactly("create", "add", "add");
    assertThat(
            environment.number(
                "select count(*) from ledger_entry where what = 'operation-confirmed'"))
        .isEqualTo(3);
  }

  @Test
  void while_an_application_is_down_everything_waits_and_nothing_is_lost() {
    environment.failureMode("{\"mode\":\"down\"}");
    environment.load(UNA, BO);
    environment.start();
    TestEnvironment.eventually(() -> health().equals("unwell"));
    assertThat(environment.number("select count(*) from operation where state != 'waiting'"))
        .isZero();
    environment.failureMode("{\"mode\":\"well\"}");
    environment.clock.moveTo(TestEnvironment.MORNING.plusSeconds(3_600));
    environment.workers.wake();
    environment.settled();
    assertThat(health()).isEqualTo("well");
    assertThat(environment.groups("W-2")).containsExactlyInAnyOrder("Charts", "Slip drawings");
  }

  @Test
  void one_that_is_busy_is_asked_again_when_it_said() {
    environment.failureMode("{\"mode\":\"busy\"}");
    environment.load(UNA);
    environment.start();
    TestEnvironment.eventually(
        () -> environment.number("select coalesce(max(attempts), 0) from operation") > 0);
    assertThat(
            environment.number(
                "select count(*) from operation where attempts > 0 and not_before > created_at"))
        .isPositive();
    environment.failureMode("{\"mode\":\"well\"}");
    environment.clock.moveTo(TestEnvironment.MORNING.plusSeconds(3_600));
    environment.workers.wake();
    environment.settled();
    assertThat(environment.user("W-1").path("active").asBoolean()).isTrue();
  }

  @Test
  void a_refusal_is_a_fault_at_once_and_can_be_tried_again() {
    environment.failureMode("{\"mode\":\"refuse\",\"reason\":\"no seat is free\"}");
    environment.load(UNA);
    environment.start();
    fault();
    assertThat(reasonOf(faulted())).contains("no seat is free");
    assertThat(environment.user("W-1").isMissingNode()).isTrue();
    assertThat(
            environment.operations.search(
                new OperationSearch(List.of("waiting"), null, null, "W-1", null, null, 9),
                TestEnvironment.ISA))
        .as("what comes after it says what it waits for")
        .hasSize(2)
        .allSatisfy(
            each -> assertThat(each.reason()).isEqualTo("behind operation %d, a fault", faulted()));
    environment.failureMode("{\"mode\":\"well\"}");
    assertThat(environment.retries.retry(faulted(), TestEnvironment.ISA).state())
        .isEqualTo("superseded");
    environment.settled();
    assertThat(environment.groups("W-1")).containsExactlyInAnyOrder("Charts", "Westholm");
    assertThat(
            environment.number(
                "select count(*) from operation where state not in ('confirmed', 'superseded')"))
        .isZero();
  }

  @Test
  void one_that_forgets_is_found_out_by_reading_back() {
    environment.failureMode("{\"mode\":\"forget\"}");
    environment.load(UNA);
    environment.start();
    TestEnvironment.eventually(
        () -> environment.number("select coalesce(max(attempts), 0) from operation") > 0);
    assertThat(environment.number("select count(*) from operation where state = 'confirmed'"))
        .isZero();
    assertThat(environment.access.accounts("W-1", TestEnvironment.ISA).getFirst().seenState())
        .isEqualTo("none");
  }

  @Test
  void a_group_that_is_not_there_faults_alone() {
    environment.define(
        "entitlement: chartshare/attic\ntechnical: Attic\n---\npackage: attic\nentitlements: [chartshare/attic]\n---\nbirthright: attic\npackage: attic\nwhere: 'true'\n",
        false);
    environment.load(UNA);
    environment.start();
    fault();
    TestEnvironment.eventually(() -> environment.groups("W-1").size() == 2);
    assertThat(reasonOf(faulted())).contains("There is no group Attic");
    environment.faults.giveUp(faulted(), "the attic was torn down", null, TestEnvironment.ISA);
    assertThat(
            environment.happened(
                "operation:"
                    + environment.number("select id from operation where state = 'given-up'")))
        .containsExactly("operation-given-up");
  }

  @Test
  void what_was_done_by_hand_counts_as_seen() {
    environment.define(
        "entitlement: chartshare/attic\ntechnical: Attic\n---\npackage: attic\nentitlements: [chartshare/attic]\n---\nbirthright: attic\npackage: attic\nwhere: 'true'\n",
        false);
    environment.load(UNA);
    environment.start();
    fault();
    var fault = faulted();
    assertThatThrownBy(() -> environment.faults.byHand(fault, " ", TestEnvironment.ISA))
        .isInstanceOf(Refused.class);
    var view = environment.faults.byHand(fault, "added in the admin page", TestEnvironment.ISA);
    assertThat(view.state()).isEqualTo("by-hand");
    assertThat(view.settledBy()).isEqualTo("isa");
    assertThat(environment.access.why("W-1", "chartshare/attic", TestEnvironment.ISA).observed())
        .isTrue();
    assertThatThrownBy(() -> environment.retries.retry(fault, TestEnvironment.ISA))
        .isInstanceOf(Refused.class);
  }

  @Test
  void an_account_that_is_there_already_is_adopted_and_not_doubled() {
    environment.load(UNA);
    environment.sent();
    var id = environment.user("W-1").path("id").asString();
    // As after a crash between doing and recording.
    environment.sql.update(
        "update operation set state = 'waiting', settled_at = null where kind = 'create'");
    environment.sql.update("update lane set due_at = '2027-03-01'");
    environment.workers.wake();
    environment.settled();
    assertThat(environment.user("W-1").path("id").asString()).isEqualTo(id);
  }

  @Test
  void two_replicas_do_nothing_twice() {
    var rows =
        IntStream.range(0, 60)
            .mapToObj("W-%1$d,Kai,Dock%1$d,Deck,Westholm,,2020-01-01,,,"::formatted)
            .toArray(String[]::new);
    environment.start();
    try (var other = impatient()) {
      other.start();
      TestEnvironment.eventually(
          () -> environment.number("select count(*) from worker_replica") == 2);
      environment.load(rows);
      environment.settled();
    }
    assertThat(
            environment.number(
                "select count(*) from ledger_entry where what = 'operation-confirmed'"))
        .isEqualTo(180);
    assertThat(environment.number("select count(*) from operation where state = 'confirmed'"))
        .isEqualTo(180);
    assertThat(environment.user("W-59").path("userName").asString()).isEqualTo("dock59k");
  }

  @Test
  void a_lane_whose_replica_died_is_taken_over_once_its_lease_is_over() {
    environment.load(UNA);
    environment.sql.update("update lane set leased_by = 'dead', leased_until = '2099-01-01'");
    environment.start();
    environment.workers.wake();
    assertThat(environment.number("select count(*) from operation where state = 'waiting'"))
        .isEqualTo(3);
    environment.sql.update("update lane set leased_until = '2020-01-01'");
    environment.workers.wake();
    environment.settled();
    assertThat(environment.groups("W-1")).hasSize(2);
  }

  private OperationWorkers impatient() {
    var operation = Database.get(OperationMapper.class);
    var account = Database.get(AccountMapper.class);
    var notes =
        new ResultWriter(
            operation,
            account,
            Database.get(PersonMapper.class),
            environment.ledger,
            environment.transactions);
    return new OperationWorkers(
        operation,
        account,
        environment.connections,
        notes,
        new Secrets(List.of(new byte[32])),
        environment.transactions,
        environment.clock,
        Database.get(WriteSignal.class),
        environment.get(WorkerReplicaMapper.class),
        new OperationWorkers.Pace(
            Duration.ofSeconds(5),
            Duration.ofMillis(100),
            Duration.ofSeconds(5),
            Duration.ofSeconds(5),
            Duration.ofMillis(300)));
  }

  @Test
  void a_lane_that_is_stuck_is_stopped_and_left_to_another_worker() {
    environment.load(UNA);
    environment.failureMode("{\"mode\":\"half\"}");
    try (var impatient = impatient()) {
      impatient.start();
      TestEnvironment.eventually(() -> reasonOf(created()).contains("Stopped while waiting"));
      TestEnvironment.eventually(() -> impatient.inHand() == 0);
      environment.failureMode("{\"mode\":\"well\"}");
      environment.clock.moveTo(TestEnvironment.MORNING.plusSeconds(3_600));
    }
    environment.sent();
    assertThat(environment.groups("W-1")).hasSize(2);
  }

  @Test
  void health_that_cannot_be_kept_stops_no_work_and_is_kept_later() {
    environment.load(UNA);
    environment.sql.execute("rename table application_health to away");
    try (var impatient = impatient()) {
      impatient.start();
      environment.settled();
    } finally {
      environment.sql.execute("rename table away to application_health");
    }
    assertThat(environment.groups("W-1")).hasSize(2);
    environment.health.begin();
    TestEnvironment.eventually(() -> health().equals("well"));
  }

  private long created() {
    return environment.number("select id from operation where kind = 'create'");
  }

  @Test
  void nothing_is_sent_while_the_definition_holds_it() {
    environment.define(
        TestEnvironment.skerryLine().replace("name: Chartshare", "name: Chartshare\nparallel: 0"),
        true);
    environment.load(UNA);
    environment.start();
    environment.workers.wake();
    assertThat(environment.applications.list(TestEnvironment.ISA).getFirst().sentence())
        .contains("parallel: 0");
    assertThat(environment.number("select count(*) from operation where sent_at is not null"))
        .isZero();
    environment.define(TestEnvironment.skerryLine(), true);
    environment.settled();
    assertThat(environment.groups("W-1")).hasSize(2);
  }

  @Test
  void a_passcode_is_sent_told_once_and_kept_nowhere() {
    environment.load(UNA);
    environment.sent();
    var issued = environment.operations.issuePasscode("W-1", "chartshare", TestEnvironment.ISA);
    assertThat(issued.passcode()).matches("([a-z2-9]{4}-){3}[a-z2-9]{4}");
    environment.settled();
    assertThat(
            environment.sql.queryForList(
                "select payload from operation where kind = 'set-password'", String.class))
        .containsExactly("{\"sealed\":\"\"}");
    assertThat(environment.sql.queryForList("select entry from ledger_entry", String.class))
        .noneMatch(entry -> entry.contains(issued.passcode()));
  }

  @Test
  void a_move_reaches_the_application() {
    environment.load(UNA, BO);
    environment.sent();
    environment.load(UNA.replace("Westholm", "Hallow Quay"), BO.replace("Hallow Quay", "Westholm"));
    environment.settled();
    assertThat(environment.groups("W-1")).containsExactly("Charts");
    assertThat(environment.groups("W-2"))
        .containsExactlyInAnyOrder("Charts", "Slip drawings", "Westholm");
    assertThat(environment.user("W-1").path("active").asBoolean()).isTrue();
  }

  @Test
  void a_leaver_is_shut_there_too_and_deleted_in_the_end() {
    environment.load(UNA, BO);
    environment.sent();
    environment.load(UNA);
    environment.settled();
    assertThat(environment.user("W-2").path("active").asBoolean()).isFalse();
    assertThat(environment.groups("W-2")).isEmpty();
    environment.at("2027-04-05T06:00:00Z");
    environment.settled();
    assertThat(environment.user("W-2").isMissingNode()).isTrue();
  }
}
