package glenmoor.engine.reconcile;

import static glenmoor.engine.TestEnvironment.ISA;
import static glenmoor.engine.TestEnvironment.RONA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.core.authorization.Scope;
import glenmoor.core.reconcile.DriftSearch;
import glenmoor.core.reconcile.DriftView;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** An application that was changed behind Glenmoor's back. */
class ReconcileTest {
  private static final String NOBODY_S =
      "{\"schemas\":[\"urn:ietf:params:scim:schemas:core:2.0:User\"],\"userName\":\"%s\",\"displayName\":\"%s\",\"active\":true%s}";

  private TestEnvironment environment;
  private Reconciles reconciles;
  private DriftService drift;

  @BeforeEach
  void two_people_at_work() {
    environment = new TestEnvironment().defined();
    environment.load(TestEnvironment.UNA, TestEnvironment.BO);
    environment.agenda.sweep();
    environment.sent();
    reconciles = environment.get(Reconciles.class);
    drift = environment.get(DriftService.class);
  }

  @AfterEach
  void close() {
    environment.close();
  }

  private JsonNode reconciled() {
    var ended = environment.ended(reconciles.begin("chartshare", ISA));
    assertThat(ended.state()).as(ended.sentence()).isEqualTo("done");
    return JsonMapper.shared().readTree(ended.result());
  }

  private List<DriftView> open() {
    return drift.list(
        new DriftSearch("chartshare", null, "open", null, null, Long.MAX_VALUE, 100), ISA);
  }

  private List<String> kinds() {
    return open().stream().map(each -> each.kind().word()).sorted().toList();
  }

  private void rule(String lines) {
    environment.define("reconcile: chartshare\n" + lines, false);
  }

  private String id(String worker) {
    return environment.user(worker).path("id").asString();
  }

  private void alter(String worker, String attribute, String json) {
    environment.patch(
        "/Users/" + id(worker),
        "{\"op\":\"replace\",\"path\":\"%s\",\"value\":%s}".formatted(attribute, json));
  }

  private void join(String group, String worker) {
    joinId(group, id(worker));
  }

  private void joinId(String group, String id) {
    environment.patch(
        "/Groups/" + groupId(group),
        "{\"op\":\"add\",\"path\":\"members\",\"value\":[{\"value\":\"%s\"}]}".formatted(id));
  }

  private void leave(String group, String worker) {
    environment.patch(
        "/Groups/" + groupId(group),
        "{\"op\":\"remove\",\"path\":\"members[value eq \\\"%s\\\"]\"}".formatted(id(worker)));
  }

  private String groupId(String group) {
    for (var each : environment.scim("/Groups").path("Resources")) {
      if (each.path("displayName").asString().equals(group)) {
        return each.path("id").asString();
      }
    }
    throw new AssertionError("no group " + group);
  }

  private String stray(String name, String shown, String besides) {
    return environment.post("/Users", NOBODY_S.formatted(name, shown, besides));
  }

  @Test
  void what_is_as_it_should_be_is_no_drift() {
    var result = reconciled();
    assertThat(result.path("accounts").asInt()).isEqualTo(2);
    assertThat(result.path("memberships").asInt()).isEqualTo(4);
    assertThat(kinds()).isEmpty();
    assertThat(lists()).as("and nothing of it is kept").isEmpty();
  }

  @Test
  void a_second_account_with_the_number_of_somebody_is_nobody_s_and_takes_no_place() {
    stray("una.k", "Una Kerrow", ",\"externalId\":\"W-1\",\"title\":\"Deck\"");
    assertThat(reconciled().path("accounts").asInt()).isEqualTo(3);
    assertThat(kinds()).containsExactly("stray-account");
    assertThat(open().getFirst().accountName()).isEqualTo("una.k");
  }

  @Test
  void of_two_that_carry_the_number_of_an_account_that_is_gone_neither_is_taken_for_it() {
    environment.remove(id("W-1"));
    stray("kerrowu", "Una Kerrow", ",\"externalId\":\"W-1\",\"title\":\"Deck\"");
    stray("una.k", "Una Kerrow", ",\"externalId\":\"W-1\",\"title\":\"Deck\"");
    reconciled();
    assertThat(kinds()).containsExactly("missing-account", "stray-account", "stray-account");
  }

  @Test
  void what_a_list_tells_of_the_last_use_is_kept_unless_something_later_is_known() {
    environment.define(
        TestEnvironment.skerryLine().replace("settings: {", "settings: {last-used: nickName, "),
        true);
    alter("W-2", "nickName", "\"2027-02-20T09:00:00Z\"");
    alter("W-1", "nickName", "\"2031-01-01T09:00:00Z\"");
    reconciled();
    var used =
        "select coalesce(max(u.last_used), 'never') from account a left join access_use u on u.account_id = a.id and u.entitlement = '' where a.person_id = (select id from person where worker_number = '%s')";
    assertThat(environment.sql.queryForObject(used.formatted("W-2"), String.class))
        .startsWith("2027-02-20 09:00:00");
    assertThat(environment.sql.queryForObject(used.formatted("W-1"), String.class))
        .as("what is still to come is not believed")
        .isEqualTo("never");
    alter("W-2", "nickName", "\"2027-02-10T09:00:00Z\"");
    reconciled();
    assertThat(environment.sql.queryForObject(used.formatted("W-2"), String.class))
        .startsWith("2027-02-20 09:00:00");
  }

  @Test
  void what_was_listed_is_forgotten_once_a_later_list_has_taken_its_place() {
    join("Slip drawings", "W-1");
    reconciled();
    var first = environment.number("select max(reconcile_id) from found_account");
    reconciles.scheduled();
    assertThat(lists()).as("the last one is needed for decisions").containsExactly(first);
    reconciled();
    reconciles.scheduled();
    assertThat(lists()).hasSize(1).doesNotContain(first);
  }

  private List<Long> lists() {
    return environment.sql.queryForList(
        "select distinct reconcile_id from found_account union select distinct reconcile_id from found_holding",
        Long.class);
  }

  @Test
  void every_kind_of_difference_is_found_and_the_same_one_once() {
    alter("W-1", "title", "\"Captain\"");
    join("Slip drawings", "W-1");
    leave("Charts", "W-2");
    stray("byhand", "Made By Hand", "");
    reconciled();
    reconciled();
    assertThat(kinds())
        .containsExactly(
            "altered-attribute", "extra-entitlement", "missing-entitlement", "stray-account");
    assertThat(open())
        .filteredOn(each -> each.kind().word().equals("altered-attribute"))
        .singleElement()
        .satisfies(each -> {
          assertThat(each.worker()).isEqualTo("W-1");
          assertThat(each.expected()).containsEntry("title", "Deck");
          assertThat(each.found()).containsEntry("title", "Captain");
        });
  }

  @Test
  void what_somebody_mended_by_hand_is_gone_at_the_next_comparison() {
    join("Slip drawings", "W-1");
    reconciled();
    leave("Slip drawings", "W-1");
    reconciled();
    assertThat(kinds()).isEmpty();
    assertThat(environment.number("select count(*) from drift where outcome = 'gone'")).isOne();
  }

  @Test
  void repairing_makes_the_application_as_it_should_be() {
    alter("W-1", "title", "\"Captain\"");
    alter("W-2", "active", "false");
    join("Slip drawings", "W-1");
    leave("Charts", "W-2");
    reconciled();
    var decided = drift.repair(open().stream().map(DriftView::id).toList(), "changed by hand", ISA);
    assertThat(decided.decided()).isEqualTo(4);
    environment.settled();
    assertThat(environment.user("W-1").path("title").asString()).isEqualTo("Deck");
    assertThat(environment.user("W-2").path("active").asBoolean()).isTrue();
    assertThat(environment.groups("W-1")).containsExactlyInAnyOrder("Charts", "Westholm");
    assertThat(environment.groups("W-2")).containsExactlyInAnyOrder("Charts", "Slip drawings");
    reconciled();
    assertThat(kinds()).isEmpty();
  }

  @Test
  void an_account_that_was_deleted_is_made_again() {
    environment.remove(id("W-1"));
    reconciled();
    assertThat(kinds()).containsExactly("missing-account");
    drift.repair(List.of(open().getFirst().id()), "deleted by mistake", ISA);
    environment.settled();
    assertThat(environment.groups("W-1")).containsExactlyInAnyOrder("Charts", "Westholm");
  }

  @Test
  void an_account_that_was_made_anew_in_the_application_is_known_by_its_worker_number() {
    environment.remove(id("W-1"));
    stray("kerrowu", "Una Kerrow", ",\"externalId\":\"W-1\",\"title\":\"Deck\"");
    reconciled();
    assertThat(kinds())
        .as("it is hers, without her rights")
        .containsExactly("missing-entitlement", "missing-entitlement");
    drift.repair(open().stream().map(DriftView::id).toList(), "made anew by hand", ISA);
    environment.settled();
    assertThat(environment.groups("W-1")).containsExactlyInAnyOrder("Charts", "Westholm");
    reconciled();
    assertThat(kinds()).isEmpty();
  }

  @Test
  void a_leavers_account_that_was_opened_again_is_a_ghost_and_is_shut() {
    environment.load("W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,2027-02-01,,", TestEnvironment.BO);
    environment.agenda.sweep();
    environment.settled();
    assertThat(environment.user("W-1").path("active").asBoolean()).isFalse();
    alter("W-1", "active", "true");
    reconciled();
    assertThat(kinds()).containsExactly("ghost-account");
    drift.repair(List.of(open().getFirst().id()), "shut it", ISA);
    environment.settled();
    assertThat(environment.user("W-1").path("active").asBoolean()).isFalse();
  }

  @Test
  void adopting_an_extra_right_makes_it_a_grant_that_nothing_takes_away() {
    join("Slip drawings", "W-1");
    reconciled();
    drift.adopt(List.of(open().getFirst().id()), "she needs it", ISA);
    environment.agenda.sweep();
    environment.settled();
    assertThat(environment.groups("W-1")).contains("Slip drawings");
    assertThat(
            environment.number(
                "select count(*) from access_grant where basis = 'discovered' and target_key = 'chartshare/drawings'"))
        .isOne();
    reconciled();
    assertThat(kinds()).isEmpty();
  }

  @Test
  void a_leaver_is_given_nothing_by_adopting() {
    environment.load("W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,2027-02-01,,", TestEnvironment.BO);
    environment.agenda.sweep();
    environment.settled();
    join("Slip drawings", "W-1");
    reconciled();
    var extra = open().getFirst().id();
    assertThatThrownBy(() -> drift.adopt(List.of(extra), "why not", ISA))
        .isInstanceOf(Refused.class);
    assertThat(environment.number("select count(*) from access_grant where basis = 'discovered'"))
        .isZero();
  }

  @Test
  void an_accepted_difference_is_not_found_again_until_its_day() {
    join("Slip drawings", "W-1");
    reconciled();
    drift.accept(open().getFirst().id(), "for the survey", LocalDate.parse("2027-03-10"), ISA);
    reconciled();
    assertThat(kinds()).isEmpty();
    assertThat(environment.groups("W-1")).contains("Slip drawings");
    environment.at("2027-03-11T08:00:00Z");
    environment.settled();
    assertThat(environment.groups("W-1")).doesNotContain("Slip drawings");
  }

  @Test
  void what_the_definition_says_is_done_at_once() {
    rule("altered-attribute: repair\nextra-entitlement: adopt\nmissing-entitlement: ask\n");
    alter("W-1", "title", "\"Captain\"");
    join("Slip drawings", "W-1");
    leave("Charts", "W-2");
    var result = reconciled();
    assertThat(result.path("repaired").asInt()).isOne();
    assertThat(result.path("adopted").asInt()).isOne();
    environment.settled();
    assertThat(environment.user("W-1").path("title").asString()).isEqualTo("Deck");
    assertThat(environment.groups("W-1")).contains("Slip drawings");
    assertThat(kinds()).containsExactly("missing-entitlement");
    assertThat(environment.today.page(ISA).drift())
        .singleElement()
        .satisfies(each -> assertThat(each.asked()).isOne());
    assertThat(environment.today.page(actor(Duty.FIXER, "chartshare")).drift()).isEmpty();
  }

  @Test
  void too_many_repairs_are_held_until_somebody_else_releases_them() {
    environment.define("brake: reconciles\nrepaired: 0 or 1 %\n", false);
    var rows = new ArrayList<String>();
    for (var i = 10; i < 30; i++) {
      rows.add("W-%d,Crew%d,Hand,Deck,Westholm,,2020-01-01,,,".formatted(i, i));
    }
    rows.add(TestEnvironment.UNA);
    rows.add(TestEnvironment.BO);
    environment.load(rows.toArray(String[]::new));
    environment.agenda.sweep();
    environment.settled();
    rule("altered-attribute: repair\n");
    for (var i = 10; i < 20; i++) {
      alter("W-" + i, "title", "\"Captain\"");
    }
    var result = reconciled();
    assertThat(result.path("repaired").asInt()).isZero();
    var held = result.path("held").asLong();
    assertThat(reconciled().path("held").asLong()).as("not held twice").isEqualTo(held);
    assertThat(environment.user("W-10").path("title").asString()).isEqualTo("Captain");
    environment.ended(environment.held.release(held, "looked at", RONA));
    environment.settled();
    assertThat(environment.user("W-10").path("title").asString()).isEqualTo("Deck");
    assertThat(kinds()).isEmpty();
  }

  @Test
  void an_application_that_lists_nobody_is_not_believed() {
    environment.remove(id("W-1"));
    environment.remove(id("W-2"));
    rule("missing-account: repair\n");
    var ended = environment.ended(reconciles.begin("chartshare", ISA));
    assertThat(ended.state()).isEqualTo("refused");
    assertThat(ended.sentence()).contains("lists no account at all");
    assertThat(environment.number("select count(*) from drift")).isZero();
    assertThat(reconciles.list("chartshare", Long.MAX_VALUE, 10, ISA).getFirst().state())
        .isEqualTo("failed");
  }

  @Test
  void an_application_that_stops_answering_leaves_everything_as_it_was() {
    join("Slip drawings", "W-1");
    reconciled();
    environment.failureMode("{\"mode\":\"broken\"}");
    var ended = environment.ended(reconciles.begin("chartshare", ISA));
    assertThat(ended.state()).isEqualTo("refused");
    assertThat(kinds()).containsExactly("extra-entitlement");
  }

  @Test
  void an_account_for_which_something_is_under_way_is_passed_over() {
    alter("W-1", "title", "\"Captain\"");
    environment.sql.update(
        "update operation set state = 'fault' where kind = 'create' and person_id = (select id from person where worker_number = 'W-1')");
    var result = reconciled();
    assertThat(kinds()).isEmpty();
    assertThat(result.path("passedOver").asInt()).isOne();
  }

  @Test
  void what_was_done_since_the_comparison_is_not_undone_by_a_late_decision() {
    join("Slip drawings", "W-1");
    reconciled();
    var extra = open().getFirst().id();
    environment.load("W-1,Una,Kerrow,Shipyard,Westholm,,2020-01-01,,,", TestEnvironment.BO);
    environment.agenda.sweep();
    environment.settled();
    assertThatThrownBy(() -> drift.repair(List.of(extra), "late", ISA)).isInstanceOf(Refused.class);
    assertThat(environment.groups("W-1")).contains("Slip drawings");
    reconciled();
    assertThat(kinds()).isEmpty();
  }

  @Test
  void what_was_done_on_one_side_of_an_account_keeps_no_other_side_from_being_decided() {
    rule("altered-attribute: repair\n");
    alter("W-1", "title", "\"Captain\"");
    join("Slip drawings", "W-1");
    reconciled();
    environment.settled();
    drift.repair(List.of(open().getFirst().id()), "not hers", ISA);
    environment.settled();
    assertThat(environment.user("W-1").path("title").asString()).isEqualTo("Deck");
    assertThat(environment.groups("W-1")).doesNotContain("Slip drawings");
    assertThat(
            environment.sql.queryForObject(
                "select json_value(seen_attributes, '$.title') from account where person_id = (select id from person where worker_number = 'W-1')",
                String.class))
        .as("what was seen since is not forgotten")
        .isEqualTo("Deck");
  }

  @Test
  void a_stray_account_is_given_to_its_person_with_all_it_holds() {
    environment.define(
        TestEnvironment.skerryLine()
            .replace("where: 'true'", "where: person.department != \"Deck\""),
        true);
    environment.agenda.sweep();
    environment.load(
        TestEnvironment.UNA, TestEnvironment.BO, "W-3,Ola,Brae,Deck,Tarn Point,,2020-01-01,,,");
    environment.agenda.sweep();
    environment.settled();
    var id = stray("ola", "Ola Brae", "");
    joinId("Charts", id);
    reconciled();
    assertThat(kinds()).containsExactly("stray-account");
    var stray = open().getFirst().id();
    drift.attach(stray, "W-3", "it is hers", ISA);
    environment.agenda.sweep();
    environment.settled();
    assertThat(id("W-3")).as("told to the application").isEqualTo(id);
    assertThat(environment.user("W-3").path("userName").asString())
        .as("keeps its name")
        .isEqualTo("ola");
    assertThat(environment.user("W-3").path("active").asBoolean()).isTrue();
    assertThat(environment.groups("W-3")).containsExactly("Charts");
    assertThat(environment.user("W-3").path("title").isMissingNode())
        .as("nothing is changed")
        .isTrue();
    reconciled();
    assertThat(kinds()).as("what would be is drift").containsExactly("altered-attribute");
    drift.repair(List.of(open().getFirst().id()), "as everybody's", ISA);
    environment.agenda.sweep();
    environment.settled();
    assertThat(environment.user("W-3").path("title").asString()).isEqualTo("Deck");
    reconciled();
    assertThat(kinds()).isEmpty();
    assertThatThrownBy(() -> drift.attach(stray, "W-2", "again", ISA)).isInstanceOf(Refused.class);
  }

  @Test
  void nobody_is_given_a_second_account() {
    stray("una", "Una Kerrow", "");
    reconciled();
    var stray = open().getFirst().id();
    assertThatThrownBy(() -> drift.attach(stray, "W-1", "hers too", ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("already");
    assertThat(
            environment
                .scim("/Users?filter=externalId%20eq%20%22W-1%22")
                .path("totalResults")
                .asInt())
        .as("the application was told nothing")
        .isOne();
  }

  @Test
  void an_account_of_somebody_else_is_never_claimed() {
    // Nothing gives anybody of Deck an account there, so none is made while this asks.
    environment.define(
        TestEnvironment.skerryLine()
            .replace("where: 'true'", "where: person.department != \"Deck\""),
        true);
    environment.agenda.sweep();
    environment.settled();
    stray("other", "Other", ",\"externalId\":\"W-77\"");
    reconciled();
    var stray = open().getFirst().id();
    environment.load(
        TestEnvironment.UNA, TestEnvironment.BO, "W-3,Ola,Brae,Deck,Tarn Point,,2020-01-01,,,");
    assertThatThrownBy(() -> drift.attach(stray, "W-3", "hers", ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("another worker number");
    assertThatThrownBy(() -> drift.remove(stray, "nobody's", ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("another worker number");
  }

  @Test
  void a_declared_service_account_is_left_alone_until_its_day() {
    stray("printer", "Bridge printer", "");
    reconciled();
    drift.declare(open().getFirst().id(), "W-2", "prints", LocalDate.parse("2027-03-20"), ISA);
    reconciled();
    assertThat(kinds()).isEmpty();
    assertThat(drift.serviceAccounts(null, Long.MAX_VALUE, 10, ISA))
        .singleElement()
        .satisfies(each -> assertThat(each.owner()).isEqualTo("W-2"));
    environment.at("2027-03-21T08:00:00Z");
    reconciled();
    assertThat(kinds()).containsExactly("stray-account");
  }

  @Test
  void a_stray_account_is_removed_and_read_back() {
    stray("old", "Old", "");
    reconciled();
    drift.remove(open().getFirst().id(), "left over", ISA);
    reconciled();
    assertThat(kinds()).isEmpty();
    assertThat(
            environment
                .scim("/Users?filter=userName%20eq%20%22old%22")
                .path("totalResults")
                .asInt())
        .isZero();
  }

  @Test
  void a_first_import_adopts_in_the_place_of_making_a_second_account() {
    rule("stray-account: adopt\njoin:\n  attribute: displayName\n  is: person.name\n");
    environment.failureMode("{\"mode\":\"refuse\"}");
    environment.load(
        TestEnvironment.UNA,
        TestEnvironment.BO,
        "W-3,Ola,Brae,Deck,Tarn Point,,2020-01-01,,,",
        "W-4,Ida,Voe,Deck,Tarn Point,,2020-01-01,,,",
        "W-5,Ida,Voe,Deck,Tarn Point,,2020-01-01,,,");
    environment.agenda.sweep();
    TestEnvironment.eventually(
        () -> environment.number("select count(*) from operation where state = 'fault'") == 3);
    environment.failureMode("{\"mode\":\"well\"}");
    stray("o.brae", "Ola Brae", "");
    stray("i.voe", "Ida Voe", "");
    var result = reconciled();
    environment.agenda.sweep();
    assertThat(result.path("adopted").asInt()).as("of two Ida Voes none can be told").isOne();
    assertThat(environment.groups("W-3")).as("nothing is given by adopting").isEmpty();
    assertThat(environment.user("W-3").path("userName").asString()).isEqualTo("o.brae");
    assertThat(
            environment.number(
                "select count(*) from account where person_id = (select id from person where worker_number = 'W-3')"))
        .isOne();
    assertThat(open())
        .filteredOn(each -> each.kind().word().equals("stray-account"))
        .singleElement()
        .satisfies(each -> assertThat(each.accountName()).isEqualTo("i.voe"));
  }

  @Test
  void a_locked_account_is_adopted_locked_and_opened_by_decision_alone() {
    environment.define(
        TestEnvironment.skerryLine()
            .replace("where: 'true'", "where: person.department != \"Deck\""),
        true);
    rule(
        "stray-account: adopt\naltered-attribute: repair\njoin:\n  attribute: displayName\n  is: person.name\n");
    environment.load(
        TestEnvironment.UNA, TestEnvironment.BO, "W-3,Ola,Brae,Deck,Tarn Point,,2020-01-01,,,");
    environment.agenda.sweep();
    environment.settled();
    var id = stray("ola", "Ola Brae", ",\"title\":\"Harbour pilot\"");
    environment.patch("/Users/" + id, "{\"op\":\"replace\",\"path\":\"active\",\"value\":false}");
    joinId("Slip drawings", id);
    assertThat(reconciled().path("adopted").asInt()).isOne();
    environment.agenda.sweep();
    environment.settled();
    assertThat(environment.user("W-3").path("active").asBoolean()).isFalse();
    assertThat(environment.user("W-3").path("title").asString()).isEqualTo("Harbour pilot");
    assertThat(environment.groups("W-3")).containsExactly("Slip drawings");
    assertThat(environment.outbox("W-3")).isEmpty();
    // What is ordered to be repaired by itself is, but nothing is opened.
    reconciled();
    environment.agenda.sweep();
    environment.settled();
    assertThat(environment.user("W-3").path("title").asString()).isEqualTo("Deck");
    assertThat(environment.user("W-3").path("active").asBoolean()).as("asks first").isFalse();
    assertThat(kinds()).containsExactly("altered-attribute");
    drift.repair(List.of(open().getFirst().id()), "she begins again", ISA);
    environment.agenda.sweep();
    environment.settled();
    assertThat(environment.user("W-3").path("active").asBoolean()).isTrue();
  }

  @Test
  void rights_that_no_definition_names_are_listed_with_their_holders() {
    environment.post(
        "/Groups",
        "{\"schemas\":[\"urn:ietf:params:scim:schemas:core:2.0:Group\"],\"displayName\":\"Wreck list\",\"members\":[{\"value\":\"%s\"}]}"
            .formatted(id("W-1")));
    reconciled();
    assertThat(reconciles.unknownRights("chartshare", ISA))
        .filteredOn(each -> each.technicalName().equals("Wreck list"))
        .singleElement()
        .satisfies(each -> assertThat(each.holders()).isOne());
  }

  @Test
  void only_who_answers_for_the_application_decides_and_others_do_not_know_of_it() {
    join("Slip drawings", "W-1");
    reconciled();
    var extra = List.of(open().getFirst().id());
    var fixer = actor(Duty.FIXER, "chartshare");
    var owner = actor(Duty.APPLICATION_OWNER, "chartshare");
    var elsewhere = actor(Duty.APPLICATION_OWNER, "quaybook");
    assertThatThrownBy(() -> drift.repair(extra, "x", fixer))
        .hasMessageContaining("may not decide on drift");
    assertThatThrownBy(() -> drift.repair(extra, "x", elsewhere))
        .hasMessageContaining("There is no drift");
    assertThatThrownBy(() -> drift.show(extra.getFirst(), elsewhere))
        .hasMessageContaining("There is no drift");
    assertThat(
            drift.list(
                new DriftSearch(null, null, null, null, null, Long.MAX_VALUE, 10), elsewhere))
        .isEmpty();
    assertThatThrownBy(() -> drift.repair(extra, " ", owner)).hasMessageContaining("Say why");
    assertThat(drift.repair(extra, "taken back", owner).decided()).isOne();
  }

  private static Actor actor(Duty duty, String application) {
    return new Actor(
        "una",
        "Una Kerrow",
        "W-1",
        List.of(new Assignment(duty, Scope.application(application), null, null)));
  }

  @Test
  void what_is_to_recur_recurs_by_the_service_itself() {
    rule("at: 30 2 * * *\n");
    reconciles.scheduled();
    assertThat(environment.number("select count(*) from reconcile")).isZero();
    environment.at("2027-03-02T03:00:00Z");
    reconciles.scheduled();
    TestEnvironment.eventually(() ->
        environment.number(
                "select count(*) from reconcile where state = 'done' and asked_by = 'glenmoor'")
            == 1);
    reconciles.scheduled();
    assertThat(environment.number("select count(*) from reconcile")).isOne();
  }
}
