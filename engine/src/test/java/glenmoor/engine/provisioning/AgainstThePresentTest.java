package glenmoor.engine.provisioning;

import static glenmoor.engine.House.BO;
import static glenmoor.engine.House.UNA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.engine.House;
import glenmoor.engine.InTheHouse;
import glenmoor.engine.Refused;
import glenmoor.store.provisioning.OperationMapper.RetrySearch;
import java.time.LocalDate;
import org.junit.jupiter.api.Test;

/** Old orders in a world that has moved on: none of them gives, keeps or takes access wrongly. */
class AgainstThePresentTest extends InTheHouse {
  private void refuses() {
    house.mood("{\"mode\":\"refuse\",\"reason\":\"no seat is free\"}");
  }

  private void well() {
    house.mood("{\"mode\":\"well\"}");
  }

  private long fault(String kind) {
    House.eventually(() ->
        house.number(
                "select count(*) from operation where state = 'fault' and kind = '%s'"
                    .formatted(kind))
            > 0);
    return house.number(
        "select max(id) from operation where state = 'fault' and kind = '%s'".formatted(kind));
  }

  private String state(long operation) {
    return house.operations.show(operation, House.ISA).state();
  }

  private static RetrySearch all() {
    return new RetrySearch(null, null, null, 0, 1);
  }

  @Test
  void a_right_that_could_not_be_given_is_not_given_after_the_move() {
    house.load(UNA, BO);
    house.sent();
    refuses();
    house.load(UNA, BO.replace("Hallow Quay", "Westholm"));
    var add = fault("add");
    well();
    house.load(UNA, BO);
    house.settled();
    assertThat(state(add)).isEqualTo("superseded");
    assertThat(house.operations.show(add, House.ISA).supersededBy()).isPositive();
    assertThatThrownBy(() -> house.retries.retry(add, House.ISA)).isInstanceOf(Refused.class);
    house.retries.retryAll(all(), House.ISA);
    house.settled();
    assertThat(house.groups("W-2")).doesNotContain("Westholm");
    assertThat(house.happened("operation:" + add)).contains("operation-superseded");
  }

  @Test
  void an_account_that_could_not_be_opened_is_not_opened_for_a_leaver() {
    house.load(UNA.replace(",,,", ",,2027-02-20,2027-03-10"));
    house.sent();
    refuses();
    house.start();
    house.clock.moveTo(House.MORNING.plusSeconds(10 * 86_400));
    house.agenda.sweep();
    var enable = fault("enable");
    well();
    house.load(
        "W-5,Kai,Dock,Deck,Westholm,,2020-01-01,,,",
        UNA.replace("2020-01-01,", "2020-01-01,2027-03-01"));
    house.settled();
    assertThat(state(enable)).isEqualTo("superseded");
    assertThat(house.user("W-1").path("active").asBoolean()).isFalse();
    assertThat(house.retries.retryAll(all(), House.ISA).operations()).isZero();
  }

  @Test
  void retrying_plans_anew_and_never_sends_the_old_order() {
    house.define(
        House.skerryLine().replace("title: person.department", "title: '\"old title\"'"), true);
    refuses();
    house.load(UNA);
    house.start();
    var create = fault("create");
    well();
    house.sql.update("update definition set body = replace(body, 'old title', 'new title')");
    house.sql.update("update definition_revision set revision = revision + 1");
    assertThat(house.retries.retry(create, House.ISA).state()).isEqualTo("superseded");
    house.settled();
    assertThat(house.user("W-1").path("title").asString()).isEqualTo("new title");
    assertThat(house.groups("W-1")).containsExactlyInAnyOrder("Charts", "Westholm");
  }

  @Test
  void an_account_that_could_not_be_made_is_made_once_the_definition_is_mended() {
    refuses();
    house.load(UNA);
    house.start();
    var create = fault("create");
    well();
    house.define(
        House.skerryLine().replace("title: person.department", "title: '\"mended\"'"), true);
    house.agenda.sweep();
    house.settled();
    assertThat(state(create)).isEqualTo("superseded");
    assertThat(house.user("W-1").path("title").asString()).isEqualTo("mended");
    assertThat(house.groups("W-1")).hasSize(2);
  }

  @Test
  void what_builds_on_an_account_waits_while_it_could_not_be_made_whatever_is_planned() {
    refuses();
    house.load(UNA);
    house.start();
    fault("create");
    house.load(UNA.replace("Westholm", "Hallow Quay"));
    refuses();
    house.couriers.ring();
    assertThat(
            house.number("select count(*) from operation where kind = 'add' and state = 'fault'"))
        .isZero();
    assertThat(
            house.number(
                "select count(*) from operation where kind = 'add' and sent_at is not null"))
        .isZero();
  }

  @Test
  void somebody_who_left_before_their_account_could_be_made_gets_none() {
    refuses();
    house.load(UNA, BO);
    house.start();
    fault("create");
    well();
    house.load(UNA, BO.replace("2021-05-01,", "2021-05-01,2027-03-01"));
    house.at("2027-03-03T06:00:00Z");
    house.retries.retryAll(all(), House.ISA);
    house.settled();
    assertThat(house.user("W-2").isMissingNode()).isTrue();
    assertThat(house.user("W-1").path("active").asBoolean()).isTrue();
  }

  @Test
  void giving_up_is_an_accepted_difference_that_everybody_sees_until_it_runs_out() {
    house.load(UNA, BO);
    house.sent();
    refuses();
    house.load(UNA, BO.replace("Hallow Quay", "Westholm"));
    var add = fault("add");
    house.faults.giveUp(add, "the shelf is being moved", LocalDate.of(2027, 3, 20), House.ISA);
    well();
    assertThat(house.faults.deviations("chartshare", null, 9, House.ISA))
        .singleElement()
        .satisfies(row -> {
          assertThat(row.workerNumber()).isEqualTo("W-2");
          assertThat(row.aspect()).isEqualTo("entitlement:chartshare/westholm");
          assertThat(row.acceptedBy()).isEqualTo("isa");
        });
    assertThat(house.access.accounts("W-2", House.ISA).getFirst().deviations()).hasSize(1);
    house.at("2027-03-15T06:00:00Z");
    assertThat(house.groups("W-2")).doesNotContain("Westholm");
    house.at("2027-03-22T06:00:00Z");
    house.settled();
    assertThat(house.groups("W-2")).contains("Westholm");
    assertThat(house.faults.deviations(null, null, 9, House.ISA)).isEmpty();
  }

  @Test
  void a_right_given_up_and_then_no_longer_wanted_is_taken_to_be_sure() {
    house.load(UNA, BO);
    house.sent();
    refuses();
    house.load(UNA, BO.replace("Hallow Quay", "Westholm"));
    house.faults.giveUp(fault("add"), "not needed", null, House.ISA);
    well();
    house.load(UNA, BO);
    house.settled();
    assertThat(house.outbox("W-2")).contains("remove chartshare/westholm");
    assertThat(house.faults.deviations(null, null, 9, House.ISA)).isEmpty();
  }

  @Test
  void an_account_that_is_gone_is_made_again_if_it_is_desired() {
    house.load(UNA);
    house.sent();
    var id = house.user("W-1").path("id").asString();
    house.remove(id);
    house.load(UNA.replace("Una", "Oona"));
    House.eventually(() -> {
      house.agenda.sweep();
      return house.user("W-1").path("active").asBoolean();
    });
    house.settled();
    assertThat(house.user("W-1").path("displayName").asString()).isEqualTo("Oona Kerrow");
    assertThat(house.groups("W-1")).containsExactlyInAnyOrder("Charts", "Westholm");
    assertThat(house.happened("person:W-1")).contains("account-gone");
    assertThat(house.number("select count(*) from operation where state = 'fault'")).isZero();
  }

  @Test
  void an_account_that_is_gone_needs_no_shutting() {
    house.load(UNA, BO);
    house.sent();
    house.remove(house.user("W-2").path("id").asString());
    house.load(UNA);
    house.settled();
    assertThat(house.number("select count(*) from operation where state = 'fault'")).isZero();
    assertThat(
            house.number(
                "select count(*) from account where seen_state != 'none' and person_id = (select id from person where worker_number = 'W-2')"))
        .isZero();
    assertThat(
            house.number(
                "select count(*) from holding where held and account_id in (select id from account where seen_state = 'none')"))
        .isZero();
  }

  @Test
  void a_late_result_of_an_old_lease_changes_nothing() {
    house.mood("{\"mode\":\"well\",\"delayMillis\":700}");
    house.load(UNA);
    house.start();
    House.eventually(
        () -> house.number("select count(*) from lane where leased_by is not null") > 0);
    house.sql.update(
        "update lane set lease_token = 1, leased_by = 'another', leased_until = '2099-01-01'");
    House.eventually(() -> !house.user("W-1").isMissingNode());
    house.mood("{\"mode\":\"well\"}");
    House.eventually(() -> house.couriers.inHand() == 0);
    assertThat(house.number("select count(*) from operation where state != 'waiting'")).isZero();
    assertThat(house.number("select count(*) from ledger_entry where what = 'operation-confirmed'"))
        .isZero();
    house.sql.update("update lane set leased_until = '2020-01-01'");
    house.settled();
    assertThat(house.number("select count(*) from ledger_entry where what = 'operation-confirmed'"))
        .isEqualTo(3);
  }

  @Test
  void a_door_that_is_shut_to_glenmoor_turns_health_and_makes_no_faults() {
    house.mood("{\"mode\":\"forbid\"}");
    house.load(UNA, BO);
    house.start();
    House.eventually(() -> house.applications.list(House.ISA).getFirst().health().equals("unwell"));
    assertThat(house.applications.list(House.ISA).getFirst().sentence())
        .contains("does not let Glenmoor");
    assertThat(house.number("select count(*) from operation where state != 'waiting'")).isZero();
  }

  @Test
  void an_order_that_was_not_sent_yet_is_overtaken_too() {
    house.load(UNA, BO);
    house.load(UNA, BO.replace("2021-05-01,", "2021-05-01,2027-02-28"));
    assertThat(
            house.sql.queryForList(
                "select distinct state from operation where kind in ('create', 'add') and person_id = (select id from person where worker_number = 'W-2')",
                String.class))
        .containsExactly("superseded");
    house.sent();
    assertThat(house.user("W-2").isMissingNode()).isTrue();
  }

  @Test
  void all_means_all_and_filters_mean_what_they_say() {
    refuses();
    var rows = new String[510];
    for (var i = 0; i < rows.length; i++) {
      rows[i] = "W-%1$d,Kai,Dock%1$d,Deck,Westholm,,2020-01-01,,,".formatted(i);
    }
    house.load(rows);
    house.start();
    House.eventually(
        () -> house.number("select count(*) from operation where state = 'fault'") == rows.length);
    assertThat(
            house
                .retries
                .forecastRetry(new RetrySearch(null, "add", null, 0, 1), House.ISA)
                .operations())
        .isZero();
    var forecast = house.retries.forecastRetry(all(), House.ISA);
    assertThat(forecast.forecast().operationsByKind()).containsEntry("create", rows.length);
    assertThat(house.number("select count(*) from operation where state = 'fault'"))
        .as("a forecast does nothing")
        .isEqualTo(rows.length);
    well();
    var retried =
        house.retries.retryAll(new RetrySearch("chartshare", "create", "no seat", 0, 1), House.ISA);
    assertThat(retried.byApplication()).containsKey("chartshare");
    house.settled();
    assertThat(house.number("select count(*) from operation where state = 'fault'")).isZero();
    assertThat(house.user("W-509").path("active").asBoolean()).isTrue();
    assertThatThrownBy(
            () -> house.retries.retryAll(new RetrySearch("nowhere", null, null, 0, 1), House.ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("nowhere");
  }
}
