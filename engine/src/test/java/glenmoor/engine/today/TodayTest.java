package glenmoor.engine.today;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.authorization.Actor;
import glenmoor.engine.EngineTest;
import glenmoor.engine.TestEnvironment;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

class TodayTest extends EngineTest {
  @BeforeEach
  void load() {
    environment.load(
        "W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,,,",
        "W-2,Bo,Tarn,Shipyard,Hallow Quay,W-1,2021-05-01,2027-03-04,,",
        "W-3,Aino,Räsänen,Deck,Westholm,W-2,2022-01-01,,2027-03-03,2027-03-06",
        "W-4,Lin,Dock,Deck,Westholm,W-1,2027-03-05,,,",
        "W-5,Far,Away,Deck,Westholm,W-1,2027-05-05,,,");
  }

  private static Actor una() {
    return new Actor("una", "Una Kerrow", "W-1", List.of());
  }

  @Test
  void an_administrator_sees_what_moved_and_what_is_due_this_week() {
    var page = environment.today.page(TestEnvironment.ISA);
    assertThat(page.moved()).containsExactly(new Today.Moved("joiner", 5));
    assertThat(page.feeds()).hasSize(1);
    assertThat(page.people()).isEqualTo(3);
    assertThat(page.upcoming())
        .extracting(each -> each.worker() + " " + each.what() + " " + each.day())
        .containsExactly(
            "W-3 leave begins 2027-03-03",
            "W-2 last day 2027-03-04",
            "W-4 starts 2027-03-05",
            "W-3 back from leave 2027-03-07");
  }

  @Test
  void a_manager_sees_only_their_own_people() {
    var page = environment.today.page(una());
    assertThat(page.upcoming()).extracting(Today.Upcoming::worker).containsExactly("W-2", "W-4");
    assertThat(page.faults()).isEmpty();
    assertThat(page.feeds()).isEmpty();
    assertThat(page.moved()).isEmpty();
  }

  @Test
  void what_is_stuck_is_set_out() {
    environment.failureMode("{\"mode\":\"refuse\",\"reason\":\"no seat is free\"}");
    environment.start();
    TestEnvironment.eventually(
        () -> !environment.today.page(TestEnvironment.ISA).faults().isEmpty());
    assertThat(environment.today.page(TestEnvironment.ISA).faults().getFirst().reason())
        .contains("no seat");
  }

  @Test
  void the_finder_finds_people_and_applications_as_far_as_one_may_see_them() {
    assertThat(environment.today.find("ch", TestEnvironment.ISA))
        .extracting(Today.Found::key)
        .contains("chartshare");
    assertThat(environment.today.find("rasanen", TestEnvironment.ISA))
        .extracting(Today.Found::key)
        .containsExactly("W-3");
    assertThat(environment.today.find("rasanen", una())).isEmpty();
    assertThat(environment.today.find("chart", una())).isEmpty();
  }

  @Test
  void planning_that_does_not_get_on_is_told() {
    environment.load(TestEnvironment.UNA);
    assertThat(environment.today.page(TestEnvironment.ISA).planningLateSince()).isNull();
    environment.sql.update("update person set due_at = '2027-03-01 05:00:00'");
    assertThat(environment.planning.lateSince()).isEqualTo(Instant.parse("2027-03-01T05:00:00Z"));
    assertThat(environment.today.page(TestEnvironment.ISA).planningLateSince()).isNotNull();
    environment.agenda.sweep();
    assertThat(environment.today.page(TestEnvironment.ISA).planningLateSince()).isNull();
  }
}
