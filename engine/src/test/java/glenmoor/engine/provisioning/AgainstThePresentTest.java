package glenmoor.engine.provisioning;

import static glenmoor.engine.TestEnvironment.BO;
import static glenmoor.engine.TestEnvironment.UNA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.provisioning.RetrySearch;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import java.time.LocalDate;
import org.junit.jupiter.api.Test;

/** Old orders in a world that has moved on: none of them gives, keeps or takes access wrongly. */
class AgainstThePresentTest extends EngineTest {
  private void refuses() {
    environment.failureMode("{\"mode\":\"refuse\",\"reason\":\"no seat is free\"}");
  }

  private void well() {
    environment.failureMode("{\"mode\":\"well\"}");
  }

  private long fault(String kind) {
    TestEnvironment.eventually(() ->
        environment.number(
                "select count(*) from operation where state = 'fault' and kind = '%s'"
                    .formatted(kind))
            > 0);
    return environment.number(
        "select max(id) from operation where state = 'fault' and kind = '%s'".formatted(kind));
  }

  private String state(long operation) {
    return environment.operations.show(operation, TestEnvironment.ISA).state();
  }

  private static RetrySearch all() {
    return new RetrySearch(null, null, null, 0, 1);
  }

  @Test
  void a_right_that_could_not_be_given_is_not_given_after_the_move() {
    environment.load(UNA, BO);
    environment.sent();
    refuses();
    environment.load(UNA, BO.replace("Hallow Quay", "Westholm"));
    var add = fault("add");
    well();
    environment.load(UNA, BO);
    environment.settled();
    assertThat(state(add)).isEqualTo("superseded");
    assertThat(environment.operations.show(add, TestEnvironment.ISA).supersededBy()).isPositive();
    assertThatThrownBy(() -> environment.retries.retry(add, TestEnvironment.ISA))
        .isInstanceOf(Refused.class);
    environment.retries.retryAll(all(), TestEnvironment.ISA);
    environment.settled();
    assertThat(environment.groups("W-2")).doesNotContain("Westholm");
    assertThat(environment.happened("operation:" + add)).contains("operation-superseded");
  }

  @Test
  void an_account_that_could_not_be_opened_is_not_opened_for_a_leaver() {
    environment.load(UNA.replace(",,,", ",,2027-02-20,2027-03-10"));
    environment.sent();
    refuses();
    environment.start();
    environment.clock.moveTo(TestEnvironment.MORNING.plusSeconds(10 * 86_400));
    environment.agenda.sweep();
    var enable = fault("enable");
    well();
    environment.load(
        "W-5,Kai,Dock,Deck,Westholm,,2020-01-01,,,",
        UNA.replace("2020-01-01,", "2020-01-01,2027-03-01"));
    environment.settled();
    assertThat(state(enable)).isEqualTo("superseded");
    assertThat(environment.user("W-1").path("active").asBoolean()).isFalse();
    assertThat(environment.retries.retryAll(all(), TestEnvironment.ISA).operations()).isZero();
  }

  @Test
  void retrying_plans_anew_and_never_sends_the_old_order() {
    environment.define(
        TestEnvironment.skerryLine().replace("title: person.department", "title: '\"old title\"'"),
        true);
    refuses();
    environment.load(UNA);
    environment.start();
    var create = fault("create");
    well();
    environment.sql.update("update definition set body = replace(body, 'old title', 'new title')");
    environment.sql.update("update definition_revision set revision = revision + 1");
    assertThat(environment.retries.retry(create, TestEnvironment.ISA).state())
        .isEqualTo("superseded");
    environment.settled();
    assertThat(environment.user("W-1").path("title").asString()).isEqualTo("new title");
    assertThat(environment.groups("W-1")).containsExactlyInAnyOrder("Charts", "Westholm");
  }

  @Test
  void an_account_that_could_not_be_made_is_made_once_the_definition_is_mended() {
    refuses();
    environment.load(UNA);
    environment.start();
    var create = fault("create");
    well();
    environment.define(
        TestEnvironment.skerryLine().replace("title: person.department", "title: '\"mended\"'"),
        true);
    environment.agenda.sweep();
    environment.settled();
    assertThat(state(create)).isEqualTo("superseded");
    assertThat(environment.user("W-1").path("title").asString()).isEqualTo("mended");
    assertThat(environment.groups("W-1")).hasSize(2);
  }

  @Test
  void what_builds_on_an_account_waits_while_it_could_not_be_made_whatever_is_planned() {
    refuses();
    environment.load(UNA);
    environment.start();
    fault("create");
    environment.load(UNA.replace("Westholm", "Hallow Quay"));
    refuses();
    environment.workers.wake();
    assertThat(
            environment.number(
                "select count(*) from operation where kind = 'add' and state = 'fault'"))
        .isZero();
    assertThat(
            environment.number(
                "select count(*) from operation where kind = 'add' and sent_at is not null"))
        .isZero();
  }

  @Test
  void somebody_who_left_before_their_account_could_be_made_gets_none() {
    refuses();
    environment.load(UNA, BO);
    environment.start();
    fault("create");
    well();
    environment.load(UNA, BO.replace("2021-05-01,", "2021-05-01,2027-03-01"));
    environment.at("2027-03-03T06:00:00Z");
    environment.retries.retryAll(all(), TestEnvironment.ISA);
    environment.settled();
    assertThat(environment.user("W-2").isMissingNode()).isTrue();
    assertThat(environment.user("W-1").path("active").asBoolean()).isTrue();
  }

  @Test
  void giving_up_is_an_accepted_difference_that_everybody_sees_until_it_runs_out() {
    environment.load(UNA, BO);
    environment.sent();
    refuses();
    environment.load(UNA, BO.replace("Hallow Quay", "Westholm"));
    var add = fault("add");
    environment.faults.giveUp(
        add, "the shelf is being moved", LocalDate.of(2027, 3, 20), TestEnvironment.ISA);
    well();
    assertThat(environment.faults.deviations("chartshare", null, 9, TestEnvironment.ISA))
        .singleElement()
        .satisfies(row -> {
          assertThat(row.workerNumber()).isEqualTo("W-2");
          assertThat(row.aspect()).isEqualTo("entitlement:chartshare/westholm");
          assertThat(row.acceptedBy()).isEqualTo("isa");
        });
    assertThat(environment.access.accounts("W-2", TestEnvironment.ISA).getFirst().deviations())
        .hasSize(1);
    environment.at("2027-03-15T06:00:00Z");
    assertThat(environment.groups("W-2")).doesNotContain("Westholm");
    environment.at("2027-03-22T06:00:00Z");
    environment.settled();
    assertThat(environment.groups("W-2")).contains("Westholm");
    assertThat(environment.faults.deviations(null, null, 9, TestEnvironment.ISA)).isEmpty();
  }

  @Test
  void a_right_given_up_and_then_no_longer_wanted_is_taken_to_be_sure() {
    environment.load(UNA, BO);
    environment.sent();
    refuses();
    environment.load(UNA, BO.replace("Hallow Quay", "Westholm"));
    environment.faults.giveUp(fault("add"), "not needed", null, TestEnvironment.ISA);
    well();
    environment.load(UNA, BO);
    environment.settled();
    assertThat(environment.outbox("W-2")).contains("remove chartshare/westholm");
    assertThat(environment.faults.deviations(null, null, 9, TestEnvironment.ISA)).isEmpty();
  }

  @Test
  void an_account_that_is_gone_is_made_again_if_it_is_desired() {
    environment.load(UNA);
    environment.sent();
    var id = environment.user("W-1").path("id").asString();
    environment.remove(id);
    environment.load(UNA.replace("Una", "Oona"));
    TestEnvironment.eventually(() -> {
      environment.agenda.sweep();
      return environment.user("W-1").path("active").asBoolean();
    });
    environment.settled();
    assertThat(environment.user("W-1").path("displayName").asString()).isEqualTo("Oona Kerrow");
    assertThat(environment.groups("W-1")).containsExactlyInAnyOrder("Charts", "Westholm");
    assertThat(environment.happened("person:W-1")).contains("account-gone");
    assertThat(environment.number("select count(*) from operation where state = 'fault'")).isZero();
  }

  @Test
  void an_account_that_is_gone_needs_no_shutting() {
    environment.load(UNA, BO);
    environment.sent();
    environment.remove(environment.user("W-2").path("id").asString());
    environment.load(UNA);
    environment.settled();
    assertThat(environment.number("select count(*) from operation where state = 'fault'")).isZero();
    assertThat(
            environment.number(
                "select count(*) from account where seen_state != 'none' and person_id = (select id from person where worker_number = 'W-2')"))
        .isZero();
    assertThat(
            environment.number(
                "select count(*) from holding where observed and account_id in (select id from account where seen_state = 'none')"))
        .isZero();
  }

  @Test
  void a_late_result_of_an_old_lease_changes_nothing() {
    environment.failureMode("{\"mode\":\"well\",\"delayMillis\":700}");
    environment.load(UNA);
    environment.start();
    TestEnvironment.eventually(
        () -> environment.number("select count(*) from lane where leased_by is not null") > 0);
    environment.sql.update(
        "update lane set lease_token = 1, leased_by = 'another', leased_until = '2099-01-01'");
    TestEnvironment.eventually(() -> !environment.user("W-1").isMissingNode());
    environment.failureMode("{\"mode\":\"well\"}");
    TestEnvironment.eventually(() -> environment.workers.inHand() == 0);
    assertThat(environment.number("select count(*) from operation where state != 'waiting'"))
        .isZero();
    assertThat(
            environment.number(
                "select count(*) from ledger_entry where what = 'operation-confirmed'"))
        .isZero();
    environment.sql.update("update lane set leased_until = '2020-01-01'");
    environment.settled();
    assertThat(
            environment.number(
                "select count(*) from ledger_entry where what = 'operation-confirmed'"))
        .isEqualTo(3);
  }

  @Test
  void a_door_that_is_shut_to_glenmoor_turns_health_and_makes_no_faults() {
    environment.failureMode("{\"mode\":\"forbid\"}");
    environment.load(UNA, BO);
    environment.start();
    TestEnvironment.eventually(() ->
        environment.applications.list(TestEnvironment.ISA).getFirst().health().equals("unwell"));
    assertThat(environment.applications.list(TestEnvironment.ISA).getFirst().sentence())
        .contains("does not let Glenmoor");
    assertThat(environment.number("select count(*) from operation where state != 'waiting'"))
        .isZero();
  }

  @Test
  void an_order_that_was_not_sent_yet_is_overtaken_too() {
    environment.load(UNA, BO);
    environment.load(UNA, BO.replace("2021-05-01,", "2021-05-01,2027-02-28"));
    assertThat(
            environment.sql.queryForList(
                "select distinct state from operation where kind in ('create', 'add') and person_id = (select id from person where worker_number = 'W-2')",
                String.class))
        .containsExactly("superseded");
    environment.sent();
    assertThat(environment.user("W-2").isMissingNode()).isTrue();
  }

  @Test
  void all_means_all_and_filters_mean_what_they_say() {
    refuses();
    var rows = new String[510];
    for (var i = 0; i < rows.length; i++) {
      rows[i] = "W-%1$d,Kai,Dock%1$d,Deck,Westholm,,2020-01-01,,,".formatted(i);
    }
    environment.load(rows);
    environment.start();
    TestEnvironment.eventually(() ->
        environment.number("select count(*) from operation where state = 'fault'") == rows.length);
    assertThat(
            environment
                .retries
                .forecastRetry(new RetrySearch(null, "add", null, 0, 1), TestEnvironment.ISA)
                .operations())
        .isZero();
    var forecast = environment.retries.forecastRetry(all(), TestEnvironment.ISA);
    assertThat(forecast.forecast().operationsByKind()).containsEntry("create", rows.length);
    assertThat(environment.number("select count(*) from operation where state = 'fault'"))
        .as("a forecast does nothing")
        .isEqualTo(rows.length);
    well();
    var retried =
        environment.retries.retryAll(
            new RetrySearch("chartshare", "create", "no seat", 0, 1), TestEnvironment.ISA);
    assertThat(retried.byApplication()).containsKey("chartshare");
    environment.settled();
    assertThat(environment.number("select count(*) from operation where state = 'fault'")).isZero();
    assertThat(environment.user("W-509").path("active").asBoolean()).isTrue();
    assertThatThrownBy(() ->
            environment.retries.retryAll(
                new RetrySearch("nowhere", null, null, 0, 1), TestEnvironment.ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("nowhere");
  }
}
