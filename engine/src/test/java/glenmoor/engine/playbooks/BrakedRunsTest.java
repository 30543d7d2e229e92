package glenmoor.engine.playbooks;

import static glenmoor.engine.TestEnvironment.ISA;
import static glenmoor.engine.TestEnvironment.RONA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.core.brakes.KeptChange;
import glenmoor.core.playbooks.RunView;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What would be played for too many waits until somebody has looked. */
class BrakedRunsTest extends EngineTest {
  private static final String MONDAY =
      """
      channel: help-desk
      kind: tickets
      url: ${DESK_URL}
      secret-file: token
      ---
      brake: playbooks
      played: 6 or 100 %
      ---
      playbook: monday
      on: schedule
      at: 0 6 * * 1
      steps:
      - ticket: open
        in: help-desk
        text: Look after {{person.name}}
      """;

  private RunService runs;

  @BeforeEach
  void seven_people_on_a_monday() {
    runs = environment.get(RunService.class);
    environment.define(MONDAY, false);
    environment.load(seven(100));
    environment.at("2027-03-09T12:00:00Z");
  }

  private static String[] seven(int from) {
    var rows = new ArrayList<String>();
    for (var i = 0; i < 7; i++) {
      rows.add("W-%d,Una,Kerrow,Deck,Westholm,,2020-01-01,,,".formatted(from + i));
    }
    return rows.toArray(String[]::new);
  }

  private List<RunView> runs(String state) {
    return environment.get(RunViews.class).list("monday", null, state, Long.MAX_VALUE, 50, ISA);
  }

  private KeptChange held() {
    var all = environment.held.list("held", Long.MAX_VALUE, 50, ISA);
    assertThat(all).hasSize(1);
    return all.getFirst();
  }

  @Test
  void they_stand_among_what_is_held_with_what_they_would_do() {
    assertThat(environment.desk.heard()).isEmpty();
    assertThat(runs("held")).hasSize(7);
    assertThat(runs("held").getFirst().reason())
        .contains("7 of 7 people", "the brake is at 6 or 100 %");
    assertThat(held().what()).isEqualTo("playbook monday");
    assertThat(held().sentence()).contains("7 of 7 people");
    assertThat(environment.held.show(held().id(), ISA).forecast())
        .contains("\"runs\":7")
        .contains("W-100");
  }

  @Test
  void released_all_of_them_go_on() {
    var work = environment.held.release(held().id(), "they are all looked after", ISA);
    var ended = environment.ended(work);
    assertThat(ended.state()).as(ended.sentence()).isEqualTo("done");
    assertThat(ended.result()).contains("\"runs\":7");
    environment.at("2027-03-09T13:00:00Z");
    assertThat(environment.desk.heard()).hasSize(7);
    assertThatThrownBy(() -> environment.held.release(1L, "once more", ISA))
        .isInstanceOf(Refused.class);
  }

  @Test
  void dropped_all_of_them_end_and_nothing_is_told() {
    environment.held.drop(held().id(), "it was a holiday", RONA);
    assertThat(runs("ended")).hasSize(7);
    assertThat(runs("ended").getFirst().reason()).isEqualTo("it was a holiday");
    environment.at("2027-03-09T13:00:00Z");
    assertThat(environment.desk.heard()).isEmpty();
  }

  @Test
  void let_go_by_the_playbook_nothing_is_held_any_more() {
    assertThat(runs.releaseBraked("monday", "they are all looked after", ISA)).isEqualTo(7);
    assertThat(environment.held.list("held", Long.MAX_VALUE, 50, ISA)).isEmpty();
    assertThat(environment.held.list("released", Long.MAX_VALUE, 50, ISA)).hasSize(1);
    environment.at("2027-03-09T13:00:00Z");
    assertThat(environment.desk.heard()).hasSize(7);
  }

  @Test
  void those_of_the_next_time_join_them() {
    environment.at("2027-03-16T12:00:00Z");
    assertThat(runs("held")).hasSize(14);
    held();
    assertThat(runs.releaseBraked("monday", "they are all looked after", ISA)).isEqualTo(14);
  }

  @Test
  void who_may_not_play_playbooks_decides_nothing() {
    var clerk = new Actor("ada", "Ada Orr", null, List.of(Assignment.of(Duty.PEOPLE_DESK)));
    var id = held().id();
    assertThatThrownBy(() -> environment.held.release(id, "go", clerk)).isInstanceOf(Refused.class);
    assertThatThrownBy(() -> environment.held.drop(id, "no", clerk)).isInstanceOf(Refused.class);
    assertThat(runs("held")).hasSize(7);
  }
}
