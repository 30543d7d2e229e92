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
import glenmoor.engine.access.Revoking;
import glenmoor.engine.requests.ApprovalService.Decision;
import glenmoor.engine.requests.DirectGrants.Giving;
import glenmoor.engine.requests.GrantService.Held;
import glenmoor.engine.requests.RequestService.NewLine;
import glenmoor.engine.requests.RequestViews.LastUsed;
import glenmoor.engine.usage.UsageTold;
import glenmoor.engine.usage.UsageTold.Told;
import glenmoor.store.people.PersonMapper;
import java.time.Instant;
import java.time.LocalDate;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Asks about what somebody has or had, and what stewards give without one. */
class AskedOfWhatIsHeldTest extends EngineTest {
  private static final String ASKING =
      """
      portfolio: deck
      entitlements: [chartshare/charts, chartshare/westholm, chartshare/drawings]
      ---
      package: night-watch
      name: Night watch
      portfolio: deck
      entitlements: [chartshare/drawings]
      ---
      route: manager
      stages:
      - ask: line-manager
      ---
      route: nobody-to-remove
      stages:
      - ask: line-manager
        where: ask.kind != "remove"
      - ask: stewards
        where: ask.kind == "remove"
      ---
      offer: watch
      package: night-watch
      portfolio: deck
      for: person.department == "Deck"
      asked-by: [person, manager, anyone]
      direct: yes
      route: nobody-to-remove
      term: up to 30 days
      reason: optional
      questions:
      - key: harbour
        ask: Which harbour?
        choices: [Westholm, Tarn Point, Both]
        gives:
          Westholm: [chartshare/westholm]
          Tarn Point: [chartshare/charts]
          Both: [chartshare/westholm, chartshare/charts]
      ---
      package: draughts
      name: Draughts
      portfolio: deck
      entitlements: [chartshare/drawings]
      ---
      offer: draughts
      package: draughts
      portfolio: deck
      route: manager
      term: 10 days
      ---
      offer: draughts-given
      package: draughts
      portfolio: deck
      asked-by: nobody
      route: manager
      term: 10 days
      reason: optional
      """;

  private static final Actor TAM = person("tam", "W-10");
  private static final Actor MATE = person("mate", "W-11");
  private static final Actor CLERK = person("clerk", "W-13");
  private static final Actor STEWARD =
      new Actor(
          "steward",
          "Steward",
          "W-14",
          List.of(new Assignment(Duty.STEWARD, Scope.portfolio("deck"), null, null)));
  private static final Actor OTHER_STEWARD =
      new Actor(
          "other",
          "Other",
          "W-13",
          List.of(new Assignment(Duty.STEWARD, Scope.portfolio("yard"), null, null)));

  private RequestService requests;
  private ApprovalService approvals;
  private GrantService grants;
  private DirectGrants direct;
  private RequestViews views;

  private static Actor person(String login, String worker) {
    return new Actor(login, login, worker, List.of());
  }

  @BeforeEach
  void a_crew_and_what_they_may_ask_for() {
    // Nobody gets anything by rule here, so what is seen came by an ask or from a steward.
    environment.define(
        TestEnvironment.skerryLine().replace("where: 'true'", "where: 'false'"), true);
    environment.define(ASKING, false);
    environment.load(
        "W-10,Tam,Briain,Deck,Tarn Point,W-11,2020-01-01,,,",
        "W-11,Mate,Halcro,Deck,Tarn Point,W-12,2020-01-01,,,",
        "W-12,Captain,Sow,Bridge,Tarn Point,,2020-01-01,,,",
        "W-13,Clerk,Rao,Office,Westholm,W-12,2020-01-01,,,",
        "W-14,Steward,Fjeld,Deck,Tarn Point,W-12,2020-01-01,,,");
    environment.sent();
    environment.signIns.put(
        "steward",
        "",
        "W-14",
        "a long enough password",
        true,
        STEWARD.duties(),
        TestEnvironment.ISA);
    requests = environment.get(RequestService.class);
    approvals = environment.get(ApprovalService.class);
    grants = environment.get(GrantService.class);
    direct = environment.get(DirectGrants.class);
    views = environment.get(RequestViews.class);
  }

  private static NewLine line(
      String kind, @Nullable Long grant, Map<String, String> answers, @Nullable LocalDate last) {
    return new NewLine("watch", "W-10", kind, null, last, answers, "it is needed", grant);
  }

  private static Map<String, String> harbour(String value) {
    return Map.of("harbour", value);
  }

  private long ask(NewLine line, Actor actor) {
    return views
        .show(requests.submit(List.of(line), "", actor), TestEnvironment.ISA)
        .lines()
        .getFirst()
        .id();
  }

  private void agreed(NewLine line, Actor asker, Actor decider) {
    approvals.decide(
        ask(line, asker), new Decision("approve", "", null, "", "", null, ""), decider);
    environment.agenda.sweep();
    environment.sent();
  }

  private Held held() {
    return grants.of("W-10", TAM).getFirst();
  }

  private Held given(String harbour) {
    agreed(line("", null, harbour(harbour), null), TAM, MATE);
    return held();
  }

  @Test
  void what_is_asked_for_longer_keeps_its_answers() {
    var first = given("Westholm");
    agreed(line("extend", first.id(), Map.of(), null), TAM, MATE);
    assertThat(held().id()).isEqualTo(first.id());
    assertThat(held().endsAt()).isAfter(first.endsAt());
    assertThat(environment.groups("W-10")).containsExactlyInAnyOrder("Slip drawings", "Westholm");
  }

  @Test
  void who_decides_sees_when_it_was_used_last_and_nobody_else_does() {
    var first = given("Westholm");
    environment
        .get(UsageTold.class)
        .take(
            "chartshare",
            List.of(
                new Told("", "W-10", "chartshare/westholm", "2027-02-14T08:15:00Z"),
                new Told("", "W-10", "", "2027-02-20T08:15:00Z")),
            TestEnvironment.ISA);
    var request = requests.submit(List.of(line("extend", first.id(), Map.of(), null)), "", TAM);
    var shown = views.show(request, MATE).lines().getFirst();
    assertThat(shown.gives()).hasSize(2);
    assertThat(shown.used())
        .containsExactlyInAnyOrder(
            new LastUsed("account in Chartshare", Instant.parse("2027-02-20T08:15:00Z")),
            new LastUsed("Westholm's shelf", Instant.parse("2027-02-14T08:15:00Z")));
    assertThat(views.show(request, TAM).lines().getFirst().used()).isEmpty();
  }

  @Test
  void a_change_takes_what_the_old_answer_gave_and_gives_what_the_new_one_does() {
    var first = given("Westholm");
    agreed(line("change", first.id(), harbour("Tarn Point"), null), TAM, MATE);
    assertThat(environment.groups("W-10")).containsExactlyInAnyOrder("Slip drawings", "Charts");
    assertThat(grants.of("W-10", TAM)).hasSize(1);
    assertThat(held().endsAt()).as("ends when it would have").isEqualTo(first.endsAt());
    agreed(line("change", held().id(), harbour("Both"), null), TAM, MATE);
    assertThat(environment.groups("W-10"))
        .containsExactlyInAnyOrder("Slip drawings", "Charts", "Westholm");
  }

  @Test
  void a_change_of_what_has_not_begun_does_not_begin_it() {
    agreed(
        new NewLine(
            "watch",
            "W-10",
            "",
            LocalDate.parse("2027-03-10"),
            null,
            harbour("Westholm"),
            "it is needed",
            null),
        TAM,
        MATE);
    var first = held();
    agreed(line("change", first.id(), harbour("Both"), null), TAM, MATE);
    assertThat(environment.groups("W-10")).isEmpty();
    assertThat(held().startsAt()).isEqualTo(first.startsAt());
    environment.at("2027-03-11T06:00:00Z");
    assertThat(environment.groups("W-10"))
        .containsExactlyInAnyOrder("Slip drawings", "Charts", "Westholm");
  }

  @Test
  void a_change_gives_nothing_back_that_was_revoked_and_a_new_request_does() {
    var first = given("Both");
    var tam = environment.get(PersonMapper.class).byWorker("W-10");
    environment.transactions.run(() ->
        environment
            .get(Revoking.class)
            .revoke(
                List.of(
                    new Revoking.Taken(
                        tam, Set.of("chartshare/drawings", "chartshare/westholm"), Set.of())),
                new Revoking.Decision(
                    "too much",
                    "owner",
                    "round:1",
                    environment.clock.instant(),
                    environment.clock.instant()),
                environment.clock.instant()));
    environment.agenda.sweep();
    environment.sent();
    assertThat(environment.groups("W-10")).containsExactly("Charts");
    environment.at("2027-03-02T06:00:00Z");
    agreed(line("extend", held().id(), Map.of(), null), TAM, MATE);
    assertThat(environment.groups("W-10")).containsExactly("Charts");
    agreed(line("change", held().id(), harbour("Tarn Point"), null), TAM, MATE);
    assertThat(environment.groups("W-10")).containsExactly("Charts");
    // Answering with it names it.
    agreed(line("change", held().id(), harbour("Both"), null), TAM, MATE);
    assertThat(environment.groups("W-10")).containsExactlyInAnyOrder("Charts", "Westholm");
    grants.end(held().id(), "not needed", TAM);
    environment.agenda.sweep();
    agreed(line("", null, harbour("Westholm"), null), TAM, MATE);
    assertThat(environment.groups("W-10")).containsExactlyInAnyOrder("Westholm", "Slip drawings");
  }

  @Test
  void it_may_begin_as_far_ahead_as_the_offer_says_and_no_day_later() {
    var last = LocalDate.parse("2027-03-01").plusDays(90);
    var line =
        new NewLine("watch", "W-10", "", last, null, harbour("Westholm"), "it is needed", null);
    var later =
        new NewLine(
            "watch", "W-10", "", last.plusDays(1), null, harbour("Westholm"), "needed", null);
    refused(later, "say a day from today to " + last);
    assertThat(ask(line, TAM)).isPositive();
  }

  @Test
  void a_change_that_changes_nothing_or_says_more_is_refused() {
    var first = given("Westholm").id();
    refused(line("change", first, harbour("Westholm"), null), "Nothing would change");
    refused(line("change", first, harbour("Gull"), null), "none of the answers");
    refused(line("change", first, harbour("Both"), LocalDate.parse("2027-04-01")), "by itself");
    refused(line("extend", first, harbour("Both"), null), "say change");
    refused(line("sideways", first, Map.of(), null), "say one of new, extend");
  }

  @Test
  void a_change_of_what_ended_meanwhile_comes_to_nothing() {
    var first = given("Westholm").id();
    var change = ask(line("change", first, harbour("Both"), null), TAM);
    grants.end(first, "not needed", TAM);
    environment.agenda.sweep();
    assertThatThrownBy(() ->
            approvals.decide(change, new Decision("approve", "", null, "", "", null, ""), MATE))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("What it was about is over");
    environment.agenda.sweep();
    environment.sent();
    assertThat(grants.of("W-10", TAM)).isEmpty();
    assertThat(environment.groups("W-10")).isEmpty();
  }

  @Test
  void that_it_is_needed_no_longer_goes_its_own_way_and_ends_on_the_day() {
    var first = given("Westholm").id();
    // Anyone may ask for anybody here, so a colleague may say so, too; the stewards decide.
    agreed(line("remove", first, Map.of(), LocalDate.parse("2027-03-05")), CLERK, STEWARD);
    assertThat(environment.groups("W-10")).containsExactlyInAnyOrder("Slip drawings", "Westholm");
    environment.at("2027-03-06T08:00:00Z");
    assertThat(environment.groups("W-10")).isEmpty();
  }

  @Test
  void nothing_of_somebody_else_and_nothing_by_a_rule_can_be_removed_or_had_again() {
    var first = given("Westholm").id();
    for (var kind : List.of("remove", "extend", "change", "resume")) {
      assertThatThrownBy(() ->
              requests.submit(
                  List.of(
                      new NewLine("watch", "W-11", kind, null, null, Map.of(), "why not", first)),
                  "",
                  MATE))
          .isInstanceOf(Refused.class)
          .hasMessageContaining("nothing of");
    }
    refused(line("resume", first, Map.of(), null), "over and could be had again");
    refused(line("remove", null, Map.of(), null), "nothing of");
  }

  @Test
  void what_is_over_is_had_again_with_the_same_answers_if_they_still_are_some() {
    var first = given("Westholm").id();
    grants.end(first, "not needed", TAM);
    environment.agenda.sweep();
    environment.sent();
    assertThat(grants.past("W-10", TAM))
        .singleElement()
        .satisfies(each -> {
          assertThat(each.id()).isEqualTo(first);
          assertThat(each.resumable()).isTrue();
        });
    agreed(line("resume", first, Map.of(), null), TAM, MATE);
    assertThat(environment.groups("W-10")).containsExactlyInAnyOrder("Slip drawings", "Westholm");
    assertThat(grants.past("W-10", TAM)).as("it is had again").isEmpty();
    grants.end(held().id(), "not needed", TAM);
    environment.define(
        ASKING
            .replace("[Westholm, Tarn Point, Both]", "[Tarn Point, Both]")
            .replace("    Westholm: [chartshare/westholm]\n", ""),
        false);
    environment.agenda.sweep();
    refused(line("resume", first, Map.of(), null), "none of the answers");
  }

  private void refused(NewLine line, String sentence) {
    assertThatThrownBy(() -> requests.submit(List.of(line), "", TAM))
        .isInstanceOf(Refused.class)
        .hasMessageContaining(sentence);
  }

  // ---- given directly

  private static Giving giving(String offer, String worker, Map<String, String> answers) {
    return new Giving(offer, worker, null, null, answers, "the night boat is short of hands");
  }

  @Test
  void a_steward_gives_on_the_terms_of_the_offer_and_it_ends_so() {
    var would = direct.preview(giving("watch", "W-10", harbour("Westholm")), STEWARD);
    assertThat(would.grant()).isNull();
    assertThat(grants.of("W-10", TAM)).isEmpty();
    direct.give(giving("watch", "W-10", harbour("Westholm")), STEWARD);
    environment.agenda.sweep();
    environment.sent();
    assertThat(environment.groups("W-10")).containsExactlyInAnyOrder("Slip drawings", "Westholm");
    assertThat(held())
        .satisfies(each -> {
          assertThat(each.basis()).isEqualTo("direct");
          assertThat(each.line()).isNull();
          assertThat(each.extendable()).isTrue();
          assertThat(each.endsAt()).isCloseTo(would.endsAt(), within(1, ChronoUnit.MINUTES));
        });
    agreed(line("change", held().id(), harbour("Both"), null), TAM, MATE);
    assertThat(environment.groups("W-10"))
        .containsExactlyInAnyOrder("Slip drawings", "Charts", "Westholm");
    environment.at("2027-04-20T08:00:00Z");
    assertThat(environment.groups("W-10")).isEmpty();
  }

  @Test
  void what_is_given_directly_is_given_by_nobody_else_to_nobody_else_and_no_further() {
    var giving = giving("watch", "W-10", harbour("Westholm"));
    for (var stranger : List.of(TAM, MATE, OTHER_STEWARD)) {
      notGiven(giving, stranger, "no offer “watch” that you may give");
    }
    notGiven(giving("nothing", "W-10", Map.of()), STEWARD, "no offer “nothing”");
    notGiven(giving("draughts", "W-10", Map.of()), STEWARD, "direct: yes");
    notGiven(giving("watch", "W-14", harbour("Westholm")), STEWARD, "Nobody gives themselves");
    // Somebody outside the audience is told apart from nobody by no word.
    notGiven(
        giving("watch", "W-13", harbour("Westholm")), STEWARD, "nobody with the worker number");
    notGiven(
        giving("watch", "W-99", harbour("Westholm")), STEWARD, "nobody with the worker number");
    notGiven(giving("watch", "W-10", Map.of()), STEWARD, "Answer this");
    notGiven(new Giving("watch", "W-10", null, null, harbour("Westholm"), " "), STEWARD, "Say why");
    notGiven(
        new Giving(
            "watch", "W-10", null, LocalDate.parse("2027-08-01"), harbour("Westholm"), "long"),
        STEWARD,
        "too far");
    ask(line("", null, harbour("Westholm"), null), TAM);
    notGiven(giving, STEWARD, "not decided yet");
    assertThat(grants.of("W-10", TAM)).isEmpty();
  }

  @Test
  void nobody_asks_for_what_is_only_given_and_a_holder_gives_it_back() {
    assertThatThrownBy(() ->
            requests.submit(
                List.of(
                    new NewLine("draughts-given", "", "", null, null, Map.of(), "please", null)),
                "",
                TAM))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("You cannot ask");
    var given = direct.give(giving("draughts-given", "W-10", Map.of()), STEWARD);
    notGiven(giving("draughts-given", "W-10", Map.of()), STEWARD, "already");
    grants.end(given.grant(), "not mine", TAM);
    assertThat(grants.of("W-10", TAM)).isEmpty();
  }

  private void notGiven(Giving giving, Actor actor, String sentence) {
    for (Consumer<Giving> way :
        List.<Consumer<Giving>>of(
            each -> direct.preview(each, actor), each -> direct.give(each, actor))) {
      assertThatThrownBy(() -> way.accept(giving))
          .isInstanceOf(Refused.class)
          .hasMessageContaining(sentence);
    }
  }

  @Test
  void who_has_a_package_is_seen_by_those_who_look_after_it() {
    var holders = environment.get(PackageHolders.class);
    direct.give(giving("watch", "W-10", harbour("Westholm")), STEWARD);
    assertThat(holders.list("deck", "night-watch", 0, 10, STEWARD))
        .singleElement()
        .satisfies(each -> {
          assertThat(each.worker()).isEqualTo("W-10");
          assertThat(each.by()).isEqualTo("watch");
          assertThat(each.endable()).isTrue();
        });
    for (var stranger : List.of(TAM, OTHER_STEWARD)) {
      assertThatThrownBy(() -> holders.list("deck", "night-watch", 0, 10, stranger))
          .isInstanceOf(Refused.class);
      assertThatThrownBy(() -> holders.across("deck", "night-watch", stranger))
          .isInstanceOf(Refused.class);
    }
    assertThatThrownBy(() -> holders.list("yard", "night-watch", 0, 10, STEWARD))
        .as("a package of another portfolio")
        .isInstanceOf(Refused.class);
  }
}
