package glenmoor.engine.playbooks;

import static glenmoor.engine.TestEnvironment.ISA;
import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.authorization.Assignment;
import glenmoor.core.playbooks.RunStep;
import glenmoor.engine.EngineTest;
import glenmoor.engine.TestEnvironment;
import java.util.List;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What somebody looks after does not leave with them. */
class HandingOverTest extends EngineTest {
  private static final String LEAVING =
      """
      playbook: leaving
      on: leaver
      steps:
      - hand-over: manager
      ---
      team: deck-team
      members: [W-3, W-33]
      ---
      portfolio: deck
      entitlements: [chartshare/charts]
      """;
  private static final String CAL = "W-3,Cal,Ness,Deck,Westholm,W-2,2021-01-01,%s,,";
  private static final String OTHER = "W-33,Dot,Ness,Deck,Westholm,W-2,2021-01-01,,,";

  @BeforeEach
  void cal_looks_after_something() {
    environment.define(TestEnvironment.skerryLine(), true);
    environment.define(LEAVING, false);
    load("");
    signIn("cal", "W-3", "steward:deck", "application-owner:chartshare", "auditor");
  }

  private void load(String last) {
    environment.load(TestEnvironment.UNA, TestEnvironment.BO, CAL.formatted(last), OTHER);
    environment.sent();
  }

  private void signIn(String login, @Nullable String worker, String... duties) {
    environment.signIns.put(
        login,
        login,
        worker,
        "harbour lights",
        true,
        Stream.of(duties).map(each -> environment.duties.read(each, null, null)).toList(),
        ISA);
  }

  private List<String> duties(String login) {
    return environment.duties.inForce(login).stream().map(Assignment::words).sorted().toList();
  }

  private RunStep step() {
    var views = environment.get(RunViews.class);
    var run = views.list("leaving", null, null, Long.MAX_VALUE, 10, ISA).getFirst();
    return views.show(run.id(), ISA).steps().getFirst().step();
  }

  private void calLeaves() {
    load("2027-03-01");
    environment.at("2027-03-02T12:00:00Z");
    environment.get(Playing.class).carryOut();
  }

  @Test
  void duties_for_one_thing_go_to_the_manager_and_no_others_do() {
    signIn("bo", "W-2", "steward:deck");
    calLeaves();
    assertThat(duties("bo")).containsExactly("application-owner of chartshare", "steward of deck");
    assertThat(duties("cal")).as("of everything nobody inherits").containsExactly("auditor");
    assertThat(step().state()).isEqualTo("done");
    assertThat(step().what())
        .contains("now with Bo Tarn")
        .contains("not handed on: the duty auditor over everything")
        .contains("named there: team deck-team");
    // Done once more there is nothing left to hand over.
    environment.at("2027-03-03T12:00:00Z");
    assertThat(environment.number("select count(*) from duty_assignment where login = 'bo'"))
        .isEqualTo(2);
  }

  @Test
  void without_a_sign_in_of_the_manager_the_step_says_so_and_nothing_is_lost() {
    calLeaves();
    assertThat(step().what()).contains("Bo Tarn has no sign-in to take that");
    assertThat(duties("cal"))
        .containsExactly("application-owner of chartshare", "auditor", "steward of deck");
  }
}
