package glenmoor.engine.requests;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.core.authorization.Scope;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.definitions.DefinitionDrafts;
import glenmoor.engine.definitions.DefinitionFile;
import glenmoor.engine.requests.ApprovalService.Decision;
import glenmoor.engine.requests.DirectGrants.Giving;
import glenmoor.engine.requests.GrantService.Held;
import glenmoor.engine.requests.RequestService.NewLine;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What the terms of packages and offers do after something was given. */
class OfferTermsTest extends EngineTest {
  private static final String TERMS =
      """
      portfolio: deck
      entitlements: [chartshare/charts, chartshare/westholm, chartshare/drawings]
      ---
      team: chart-room
      members: [W-14]
      ---
      entitlement: chartshare/westholm
      name: Westholm's shelf
      technical: Westholm
      owner: team chart-room
      ---
      entitlement: chartshare/drawings
      name: Slip drawings
      technical: Slip drawings
      owner: person W-12
      ---
      package: night-watch
      name: Night watch
      portfolio: deck
      entitlements: [chartshare/drawings]
      ---
      package: lookout
      name: Lookout
      portfolio: deck
      entitlements: [chartshare/westholm, chartshare/drawings]
      ---
      channel: help-desk
      kind: tickets
      url: ${DESK_URL}
      secret-file: token
      ---
      route: manager
      stages:
      - ask: line-manager
      ---
      route: owners
      stages:
      - ask: entitlement-owners
        agree: all
      ---
      offer: watch
      package: night-watch
      portfolio: deck
      route: manager
      direct: yes
      term: 60 days
      reason: optional
      on-move: ask
      asked-anew: 10 days
      tells:
      - to: help-desk
        on: [granted, ended]
      - to: help-desk
        on: failed
      ---
      offer: lookout
      package: lookout
      portfolio: deck
      route: owners
      term: open
      reason: optional
      """;

  private static final Actor TAM = new Actor("tam", "tam", "W-10", List.of());
  private static final Actor MATE = new Actor("mate", "mate", "W-11", List.of());
  private static final Actor CAPTAIN = new Actor("captain", "captain", "W-12", List.of());
  private static final Actor CLERK = new Actor("clerk", "clerk", "W-14", List.of());
  private static final Actor STEWARD =
      new Actor(
          "steward",
          "Steward",
          "W-14",
          List.of(new Assignment(Duty.STEWARD, Scope.portfolio("deck"), null, null)));

  private static final String TAMS = "W-10,Tam,Briain,Deck,Tarn Point,W-11,2020-01-01,,,";
  private static final String[] OTHERS = {
    "W-11,Mate,Halcro,Deck,Tarn Point,W-12,2020-01-01,,,",
    "W-12,Captain,Sow,Bridge,Tarn Point,,2020-01-01,,,",
    "W-14,Steward,Fjeld,Deck,Tarn Point,W-12,2020-01-01,,,"
  };

  private RequestService requests;
  private ApprovalService approvals;
  private GrantService grants;
  private DirectGrants direct;
  private RequestViews views;

  @BeforeEach
  void a_crew_and_what_they_may_ask_for() {
    environment.define(
        TestEnvironment.skerryLine().replace("where: 'true'", "where: 'false'"), true);
    environment.define(TERMS, false);
    load(TAMS);
    environment.agenda.sweep();
    environment.sent();
    requests = environment.get(RequestService.class);
    approvals = environment.get(ApprovalService.class);
    grants = environment.get(GrantService.class);
    direct = environment.get(DirectGrants.class);
    views = environment.get(RequestViews.class);
  }

  private void load(String tam) {
    environment.load(tam, OTHERS[0], OTHERS[1], OTHERS[2]);
    environment.get(MoverReapprovals.class).carryOut();
    environment.agenda.sweep();
  }

  private void give() {
    direct.give(new Giving("watch", "W-10", null, null, Map.of(), "short of hands"), STEWARD);
    environment.agenda.sweep();
    environment.sent();
  }

  private Held held() {
    return grants.of("W-10", TAM).getFirst();
  }

  private static Decision decision(String word) {
    return new Decision(word, "as it is", null, "", "", null, "");
  }

  private long waiting() {
    return environment.sql.queryForObject(
        "select id from request_line where state = 'open'", Long.class);
  }

  // ---- asked anew after a move

  @Test
  void after_a_move_what_was_given_is_asked_for_anew_and_goes_on_if_they_agree() {
    give();
    var before = held();
    load(TAMS.replace("Tarn Point", "Hallow Quay"));
    assertThat(held().endsAt())
        .as("kept for ten days")
        .isCloseTo(environment.clock.instant(), within(10, ChronoUnit.DAYS))
        .isAfter(environment.clock.instant().plus(9, ChronoUnit.DAYS));
    approvals.decide(waiting(), decision("approve"), MATE);
    environment.agenda.sweep();
    environment.sent();
    assertThat(held().id()).isEqualTo(before.id());
    assertThat(held().endsAt()).as("as long as it would have").isEqualTo(before.endsAt());
    assertThat(environment.number("select count(*) from request")).as("asked once").isOne();
    load(TAMS.replace("Tarn Point", "Hallow Quay"));
    assertThat(environment.number("select count(*) from request")).isOne();
  }

  @Test
  void after_a_move_it_ends_if_they_do_not_agree_or_do_not_answer() {
    give();
    load(TAMS.replace("Tarn Point", "Hallow Quay"));
    approvals.decide(waiting(), decision("decline"), MATE);
    environment.agenda.sweep();
    environment.get(MoverReapprovals.class).carryOut();
    environment.agenda.sweep();
    environment.sent();
    assertThat(environment.groups("W-10")).as("declined, it ends at once").isEmpty();
    give();
    load(TAMS);
    environment.at("2027-04-20T08:00:00Z");
    assertThat(environment.groups("W-10")).as("nobody answered").isEmpty();
  }

  @Test
  void a_correction_and_what_was_given_after_the_move_are_asked_for_by_nobody() {
    load(TAMS.replace("Tarn Point", "Hallow Quay"));
    give();
    load(TAMS.replace("Tarn Point", "Hallow Quay").replace("Briain", "Bríain"));
    assertThat(environment.number("select count(*) from request")).isZero();
  }

  // ---- owners of entitlements

  @Test
  void those_who_answer_for_an_entitlement_are_asked_by_it() {
    requests.submit(
        List.of(new NewLine("lookout", "", "", null, null, Map.of(), "", null)), "", TAM);
    approvals.decide(waiting(), decision("approve"), CAPTAIN);
    assertThat(grants.of("W-10", TAM)).as("both have to").isEmpty();
    approvals.decide(waiting(), decision("approve"), CLERK);
    assertThat(grants.of("W-10", TAM)).hasSize(1);
    assertThatThrownBy(() ->
            environment.define(
                "entitlement: chartshare/charts\ntechnical: Charts\nowner: team nowhere", false))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("owner is");
  }

  // ---- seats

  @Test
  void seats_are_counted_before_somebody_takes_one() {
    environment.define(chartshare("seats: 1"), false);
    var line = new NewLine("watch", "", "", null, null, Map.of(), "", null);
    assertThat(requests.preview(List.of(line), TAM).getFirst().seats())
        .singleElement()
        .satisfies(each -> {
          assertThat(each.free()).isOne();
          assertThat(each.takes()).isTrue();
        });
    give();
    var other = new NewLine("watch", "W-11", "", null, null, Map.of(), "", null);
    assertThat(requests.preview(List.of(other), CAPTAIN).getFirst().seats())
        .singleElement()
        .satisfies(each -> assertThat(each.free()).isZero());
    assertThat(
            environment
                .wouldDefine(
                    List.of(
                        new DefinitionFile(
                            "x.yaml",
                            "birthright: deck\npackage: lookout\nwhere: person.department == \"Deck\"")),
                    false,
                    false)
                .warnings())
        .anyMatch(each -> each.equals("Chartshare would need 3 seats and has 1."));
    assertThatThrownBy(() -> environment.define(chartshare("seats: 0"), false))
        .isInstanceOf(Refused.class);
  }

  private static String chartshare(String more) {
    var all = TestEnvironment.skerryLine();
    var from = all.indexOf("application: chartshare");
    return all.substring(from, all.indexOf("---", from)) + more + "\n";
  }

  // ---- retirement, and what a package was

  private static String watch(String more) {
    return """
    package: night-watch
    name: Night watch
    portfolio: deck
    entitlements: [chartshare/drawings]
    """
        + more;
  }

  @Test
  void a_retired_package_is_given_to_nobody_and_those_who_have_it_keep_it_or_lose_it_on_the_day() {
    give();
    var before = held().endsAt();
    environment.define(watch("retired: stay"), false);
    environment.agenda.sweep();
    assertThat(held().endsAt()).isEqualTo(before);
    assertThat(held().extendable()).isFalse();
    var offers = environment.get(OfferCatalogue.class);
    assertThat(offers.find("", "", "", MATE)).noneMatch(each -> each.key().equals("watch"));
    assertThatThrownBy(() ->
            requests.submit(
                List.of(new NewLine("watch", "", "", null, null, Map.of(), "", null)), "", MATE))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("retired");
    assertThatThrownBy(() ->
            direct.give(
                new Giving("watch", "W-11", null, null, Map.of(), "short of hands"), STEWARD))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("retired");
    environment.define(watch("retired: until 2027-03-10"), false);
    environment.agenda.sweep();
    assertThat(held().endsAt()).isEqualTo(Instant.parse("2027-03-11T00:00:00Z"));
    environment.at("2027-03-11T08:00:00Z");
    assertThat(environment.groups("W-10")).isEmpty();
  }

  @Test
  void what_is_asked_for_while_its_package_retires_comes_to_nothing() {
    requests.submit(List.of(new NewLine("watch", "", "", null, null, Map.of(), "", null)), "", TAM);
    var line = waiting();
    environment.define(watch("retired: stay"), false);
    assertThatThrownBy(() -> approvals.decide(line, decision("approve"), MATE))
        .isInstanceOf(Refused.class);
    environment.get(LinesDue.class).carryOut();
    assertThat(environment.number("select count(*) from request_line where state = 'dropped'"))
        .isOne();
    assertThat(grants.of("W-10", TAM)).isEmpty();
  }

  @Test
  void a_rule_cannot_give_a_retired_package_and_a_wrong_retirement_is_said() {
    for (var wrong :
        List.of(
            watch("retired: soon"),
            watch("retired: until 2027-02-30"),
            watch("retired: stay\n---\nbirthright: deck\npackage: night-watch\nwhere: 'true'"))) {
      assertThatThrownBy(() -> environment.define(wrong, false))
          .as(wrong)
          .isInstanceOf(Refused.class)
          .hasMessageContaining("retired");
    }
  }

  @Test
  void a_package_that_becomes_another_one_says_why_and_what_it_was_can_be_read() {
    var file = new DefinitionFile("x.yaml", watch("purpose: Standing the night watch"));
    assertThatThrownBy(
            () -> environment.definitions.beginLoad(List.of(file), false, " ", TestEnvironment.ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("Say why the package night-watch changes");
    environment.clock.moveTo(environment.clock.instant().plusSeconds(60));
    environment.define(List.of(file), false);
    var drafts = environment.get(DefinitionDrafts.class);
    var versions = drafts.versions("package", "night-watch", TestEnvironment.ISA);
    assertThat(versions).hasSize(2);
    assertThat(versions.getFirst().why()).isEqualTo("a test");
    assertThat(versions.getFirst().text()).contains("Standing the night watch");
    assertThat(versions.getLast().text()).doesNotContain("purpose");
    assertThatThrownBy(() -> drafts.versions("package", "night-watch", TAM))
        .isInstanceOf(Refused.class);
  }

  // ---- channels

  @Test
  void a_desk_is_told_of_what_begins_ends_and_is_stuck_once_each() {
    give();
    assertThat(told()).containsExactly("Tam Briain has “Night watch” now.");
    environment.get(GrantsTold.class).carryOut();
    assertThat(told()).hasSize(1);
    grants.end(held().id(), "not needed", TAM);
    environment.agenda.sweep();
    environment.sent();
    assertThat(told())
        .containsExactly(
            "Tam Briain has “Night watch” now.", "Tam Briain has “Night watch” no more.");
    give();
    environment.sql.update(
        "update operation set state = 'fault', reason = 'no such group' order by id desc limit 1");
    assertThat(told()).anyMatch(each -> each.startsWith("“Night watch” for Tam Briain is stuck"));
    environment.get(GrantsTold.class).carryOut();
    assertThat(told().stream().filter(each -> each.contains("stuck"))).hasSize(1);
  }

  private List<String> told() {
    environment.get(GrantsTold.class).carryOut();
    return environment.sql.queryForList(
        "select subject from message where channel = 'help-desk' order by id", String.class);
  }
}
