package glenmoor.engine.provisioning;

import static glenmoor.engine.TestEnvironment.BO;
import static glenmoor.engine.TestEnvironment.UNA;
import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.engine.EngineTest;
import glenmoor.engine.TestEnvironment;
import java.util.List;
import org.junit.jupiter.api.Test;

/** From facts and dates to the outbox, through months that pass in a moment. */
class PlanningTest extends EngineTest {
  private String state(String worker) {
    return environment.access.accounts(worker, TestEnvironment.ISA).getFirst().state();
  }

  private List<String> grants(String worker, String ends) {
    return environment.sql.queryForList(
        "select g.target_key from access_grant g join person p on p.id = g.person_id where p.worker_number = ? and g.ends_at is "
            + ends
            + " order by g.target_key",
        String.class,
        worker);
  }

  @Test
  void a_joiner_gets_an_account_and_what_their_facts_give() {
    environment.load(UNA);
    assertThat(environment.outbox("W-1"))
        .containsExactly("create enabled", "add chartshare/charts", "add chartshare/westholm");
    assertThat(grants("W-1", "null")).containsExactly("start-kit", "westholm");
  }

  @Test
  void a_second_look_at_the_same_person_gives_nothing_more() {
    environment.load(UNA, BO);
    environment.sql.update("update person set due_at = '2027-03-01'");
    assertThat(environment.planning.planDue()).isEqualTo(2);
    assertThat(environment.outbox("W-1")).hasSize(3);
    assertThat(environment.planning.planDue()).isZero();
  }

  @Test
  void two_of_one_name_are_told_apart_by_a_number() {
    environment.load(UNA, UNA.replace("W-1", "W-3"), UNA.replace("W-1", "W-4"));
    assertThat(
            environment.sql.queryForList("select name from account order by number", String.class))
        .containsExactly("kerrowu", "kerrowu2", "kerrowu3");
    environment.load(
        UNA, UNA.replace("W-1", "W-3"), UNA.replace("W-1", "W-4"), UNA.replace("W-1", "W-5"));
    assertThat(environment.number("select max(number) from account")).isEqualTo(4);
  }

  @Test
  void two_grants_may_give_the_same_and_it_goes_with_the_last() {
    environment.load(UNA, BO);
    assertThat(environment.outbox("W-2").stream().filter("add chartshare/charts"::equals))
        .hasSize(1);
    environment.load(UNA, BO.replace("Shipyard", "Deck"));
    environment.at("2027-03-20T06:00:00Z");
    assertThat(environment.outbox("W-2")).contains("remove chartshare/drawings");
    assertThat(environment.outbox("W-2")).doesNotContain("remove chartshare/charts");
  }

  @Test
  void a_mover_keeps_the_old_package_for_its_grace() {
    environment.load(UNA, BO);
    environment.load(UNA, BO.replace("Shipyard", "Deck").replace("Hallow Quay", "Westholm"));
    assertThat(environment.outbox("W-2")).contains("add chartshare/westholm");
    assertThat(environment.outbox("W-2")).doesNotContain("remove chartshare/drawings");
    environment.at("2027-03-05T06:00:00Z");
    assertThat(environment.outbox("W-2")).doesNotContain("remove chartshare/drawings");
    environment.at("2027-03-07T06:00:00Z");
    assertThat(environment.outbox("W-2")).contains("remove chartshare/drawings");
    assertThat(environment.happened("person:W-2")).contains("grant-ended");
  }

  @Test
  void whoever_moves_back_within_the_grace_keeps_it() {
    environment.load(UNA, BO);
    environment.load(UNA, BO.replace("Shipyard", "Deck"));
    environment.load(UNA, BO);
    environment.at("2027-03-20T06:00:00Z");
    assertThat(environment.outbox("W-2")).doesNotContain("remove chartshare/drawings");
    assertThat(environment.happened("person:W-2")).contains("grant-kept");
  }

  @Test
  void somebody_expected_is_made_ready_and_opened_on_the_day() {
    environment.load(UNA, "W-9,Lin,Dock,Deck,Westholm,W-1,2027-03-20,,,");
    assertThat(environment.outbox("W-9")).isEmpty();
    environment.at("2027-03-12T12:00:00Z");
    assertThat(environment.outbox("W-9")).isEmpty();
    environment.at("2027-03-13T12:00:00Z");
    assertThat(environment.outbox("W-9")).containsExactly("create disabled");
    environment.at("2027-03-20T12:00:00Z");
    assertThat(environment.outbox("W-9"))
        .startsWith("create disabled")
        .contains("enable", "add chartshare/charts", "add chartshare/westholm");
  }

  @Test
  void the_account_of_somebody_on_leave_is_shut_and_opened_again() {
    environment.load(UNA.replace(",,,", ",,2027-03-10,2027-03-15"));
    environment.at("2027-03-10T12:00:00Z");
    assertThat(state("W-1")).isEqualTo("disabled");
    assertThat(environment.outbox("W-1"))
        .as("rights are kept")
        .noneMatch(each -> each.startsWith("remove"));
    environment.at("2027-03-16T12:00:00Z");
    assertThat(state("W-1")).isEqualTo("enabled");
  }

  @Test
  void whoever_comes_back_to_other_work_is_opened_after_the_old_is_taken() {
    var away = UNA.replace(",,,", ",,2027-02-20,2027-03-15");
    environment.load(away);
    environment.at("2027-03-10T12:00:00Z");
    environment.load(UNA.replace("Westholm", "Hallow Quay").replace("Deck", "Shipyard"));
    assertThat(environment.outbox("W-1"))
        .endsWith("remove chartshare/westholm", "enable", "add chartshare/drawings");
  }

  @Test
  void a_leaver_is_shut_at_once_and_the_account_deleted_after_its_hold() {
    environment.load(UNA, BO);
    environment.sent();
    environment.load(UNA);
    assertThat(environment.outbox("W-2"))
        .contains("disable", "remove chartshare/charts", "remove chartshare/drawings");
    environment.at("2027-03-29T06:00:00Z");
    assertThat(environment.outbox("W-2")).doesNotContain("delete");
    environment.at("2027-04-02T06:00:00Z");
    assertThat(environment.outbox("W-2")).endsWith("delete");
  }

  @Test
  void a_last_day_ahead_needs_no_feed() {
    environment.load(UNA, BO.replace(",,,", ",2027-03-09,,"));
    environment.at("2027-03-09T12:00:00Z");
    assertThat(state("W-2")).isEqualTo("enabled");
    environment.at("2027-03-10T12:00:00Z");
    assertThat(state("W-2")).isEqualTo("disabled");
  }

  @Test
  void everything_due_happens_at_its_own_moment_however_far_the_clock_is_moved() {
    environment.load(UNA, BO, "W-9,Lin,Dock,Deck,Westholm,W-1,2027-03-20,2027-04-10,,");
    environment.at("2027-06-30T06:00:00Z");
    assertThat(
            environment.sql.queryForList(
                "select concat(created_at, ' ', kind) from operation where person_id = (select id from person where worker_number = 'W-9') and kind in ('create', 'enable', 'disable', 'delete') order by sequence",
                String.class))
        .as("at midnight there, which keeps summer time from the end of March")
        .satisfiesExactly(
            each -> assertThat(each).startsWith("2027-03-13 00:0").endsWith("create"),
            each -> assertThat(each).startsWith("2027-03-20 00:0").endsWith("enable"),
            each -> assertThat(each).startsWith("2027-04-10 23:0").endsWith("disable"),
            each -> assertThat(each).startsWith("2027-05-10 23:0").endsWith("delete"));
  }

  @Test
  void another_birthright_is_planned_for_everybody() {
    environment.load(UNA, BO);
    var outcome =
        environment.define("birthright: shelf\npackage: westholm\nwhere: 'true'\n", false);
    assertThat(outcome.forecast().operations()).isEqualTo(1);
    environment.agenda.sweep();
    assertThat(environment.outbox("W-2")).endsWith("add chartshare/westholm");
    assertThat(
            environment.sql.queryForList(
                "select distinct cause from operation where kind = 'add' and sequence > 3",
                String.class))
        .singleElement()
        .asString()
        .startsWith("birthright:shelf@");
  }

  @Test
  void another_way_to_an_application_is_nobodys_business() {
    environment.load(UNA, BO);
    environment.define(
        TestEnvironment.skerryLine().replace("name: Chartshare", "name: Chartshare\nparallel: 2"),
        true);
    assertThat(
            environment.number(
                "select count(*) from person where due_cause like 'definitions:%' and due_at <= '2027-03-02'"))
        .isZero();
    assertThat(environment.catalogues.current().application("chartshare").parallel()).isEqualTo(2);
  }

  @Test
  void a_change_of_name_renames_the_account() {
    environment.load(UNA);
    environment.load(UNA.replace("Kerrow", "Brae"));
    assertThat(environment.outbox("W-1").getLast()).startsWith("update");
    assertThat(environment.access.accounts("W-1", TestEnvironment.ISA).getFirst().name())
        .isEqualTo("braeu");
  }
}
