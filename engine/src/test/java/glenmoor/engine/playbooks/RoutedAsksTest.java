package glenmoor.engine.playbooks;

import static glenmoor.engine.TestEnvironment.ISA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.core.playbooks.AskView;
import glenmoor.core.playbooks.RunView;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What a playbook asks by a route: stage after stage, of whoever is who at that moment. */
class RoutedAsksTest extends EngineTest {
  private static final String DEFINED =
      """
      letters: skerry-line
      from: Skerry Line <glenmoor@skerryline.example>
      address: fold(person.family) + "@skerryline.example"
      ---
      letter: asked
      subject: You are asked
      body: "Dear {{recipient.name}}: {{work}}"
      ---
      team: lawyers
      members: [W-4, W-5]
      ---
      route: two-eyes
      asked-letter: asked
      stages:
      - ask: line-manager
        lapse: 4 days
      - ask: team lawyers
        agree: all
        lapse: 4 days
      ---
      playbook: clear-out
      on: demand
      steps:
      - ask: May the mailbox of {{person.name}} go?
        route: two-eyes
      - hand-over: manager
      """;
  private static final String CAL = "W-3,Cal,Ness,Deck,Westholm,W-2,2021-01-01,,,";
  private static final String DOT = "W-4,Dot,Quill,Deck,Westholm,W-1,2021-01-01,,,";
  private static final String EVE = "W-5,Eve,Rask,Deck,Westholm,W-1,2021-01-01,,,";
  private static final Actor BO = person("bo", "W-2");
  private static final Actor ONE = person("dot", "W-4");
  private static final Actor OTHER = person("eve", "W-5");

  private AskService asks;

  private static Actor person(String login, String worker) {
    return new Actor(login, login, worker, List.of());
  }

  @BeforeEach
  void cals_mailbox_is_asked_about() {
    environment.define(DEFINED, false);
    environment.load(TestEnvironment.UNA, TestEnvironment.BO, CAL, DOT, EVE);
    environment.sent();
    asks = environment.get(AskService.class);
    environment
        .get(RunService.class)
        .play("clear-out", List.of("W-3"), null, "a spring clean", ISA);
    environment.played();
  }

  private RunView run() {
    return environment
        .get(RunViews.class)
        .list("clear-out", null, null, Long.MAX_VALUE, 10, ISA)
        .getFirst();
  }

  private List<AskView> waitsFor(Actor actor) {
    return asks.open(false, Long.MAX_VALUE, 10, actor);
  }

  private void answers(Actor actor, boolean yes, String why) {
    asks.answer(waitsFor(actor).getFirst().id(), yes, why, actor);
    environment.played();
  }

  private List<String> told() {
    return environment.post.letters().stream().map(each -> each.to() + ": " + each.text()).toList();
  }

  @Test
  void stage_after_stage_has_to_agree_and_nobody_before_their_turn() {
    var asked = waitsFor(BO).getFirst();
    assertThat(asked.question()).isEqualTo("May the mailbox of Cal Ness go?");
    assertThat(asked.whom()).isEqualTo("route two-eyes");
    assertThat(waitsFor(ONE)).isEmpty();
    assertThat(waitsFor(person("cal", "W-3"))).isEmpty();
    assertThat(waitsFor(ISA)).as("somebody can act").isEmpty();
    assertThatThrownBy(() -> asks.answer(asked.id(), true, "", ONE)).isInstanceOf(Refused.class);
    assertThat(told())
        .singleElement()
        .asString()
        .contains("tarn@skerryline.example", "May the mailbox of Cal Ness go?");
    answers(BO, true, "");
    assertThat(waitsFor(BO)).isEmpty();
    assertThat(run().state()).isEqualTo("open");
    answers(ONE, true, "");
    assertThat(waitsFor(ONE)).as("both have to").isEmpty();
    assertThat(run().state()).isEqualTo("open");
    assertThatThrownBy(() -> asks.answer(asked.id(), true, "", ONE)).isInstanceOf(Refused.class);
    answers(OTHER, true, "");
    assertThat(run().state()).isEqualTo("done");
    assertThat(environment.happened("run:" + run().id()))
        .containsSequence("ask-answered", "ask-answered", "ask-answered");
  }

  @Test
  void one_no_ends_the_run_and_needs_a_reason() {
    answers(BO, true, "");
    var id = waitsFor(ONE).getFirst().id();
    assertThatThrownBy(() -> asks.answer(id, false, " ", ONE)).isInstanceOf(Refused.class);
    answers(ONE, false, "a case is pending");
    assertThat(run().state()).isEqualTo("ended");
    assertThat(run().reason()).isEqualTo("dot said no: a case is pending");
    assertThat(waitsFor(OTHER)).isEmpty();
  }

  @Test
  void whoever_does_not_decide_is_reminded_and_then_it_has_failed() {
    environment.at("2027-03-03T07:00:00Z");
    environment.played();
    assertThat(told()).hasSize(2).last().asString().contains("Still waits: May the mailbox");
    environment.at("2027-03-05T07:00:00Z");
    environment.played();
    assertThat(run().state()).isEqualTo("stopped");
    assertThat(run().reason()).contains("4 days");
    assertThat(waitsFor(BO)).isEmpty();
    environment.get(RunService.class).again(run().id(), "once more", ISA);
    environment.played();
    answers(BO, true, "");
    assertThat(waitsFor(ONE)).hasSize(1);
  }

  @Test
  void where_the_manager_leaves_meanwhile_theirs_is_asked() {
    environment.load(
        TestEnvironment.UNA,
        "W-2,Bo,Tarn,Shipyard,Hallow Quay,W-1,2021-05-01,2027-03-01,,",
        CAL,
        DOT,
        EVE);
    environment.at("2027-03-02T09:00:00Z");
    environment.played();
    assertThat(waitsFor(BO)).isEmpty();
    assertThat(waitsFor(person("una", "W-1"))).hasSize(1);
  }

  @Test
  void a_route_about_access_or_with_its_own_times_said_twice_is_refused() {
    refused("route: nowhere", "There is no route “nowhere”; there are two-eyes");
    refused("route: two-eyes\n  of: manager", "of is said by the route");
    environment.define("route: wardens\nstages:\n- ask: stewards\n", false);
    refused("route: wardens", "a question gives nothing");
  }

  private void refused(String step, String why) {
    assertThatThrownBy(() ->
            environment.define(
                "playbook: wrong\non: demand\nsteps:\n- ask: May it go?\n  " + step + "\n", false))
        .isInstanceOfSatisfying(
            Refused.class, refused -> assertThat(refused.mistakes().toString()).contains(why));
  }
}
