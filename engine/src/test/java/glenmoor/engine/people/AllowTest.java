package glenmoor.engine.people;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.engine.Refused;
import java.util.List;
import java.util.Set;
import java.util.function.Consumer;
import org.junit.jupiter.api.Test;

class AllowTest {
  private static Actor actor(Duty... duties) {
    return new Actor("una", "Una Kerrow", "W-01007", Set.of(duties));
  }

  private static final List<Consumer<Actor>> ALL =
      List.of(
          Allow::loadingFeeds,
          Allow::seeingFeeds,
          Allow::definingThings,
          Allow::seeingDefinitions,
          Allow::seeingApplications,
          Allow::testingApplications,
          Allow::seeingSignIns,
          Allow::seeingHeldChanges,
          Allow::releasingHeldChanges,
          Allow::mendingOperations,
          Allow::issuingPasscodes,
          Allow::readingTheLedger,
          Allow::managingSignIns,
          Allow::movingTheClock);

  private static final List<Consumer<Actor>> CHANGING =
      List.of(
          Allow::loadingFeeds,
          Allow::releasingHeldChanges,
          Allow::testingApplications,
          Allow::definingThings,
          Allow::mendingOperations,
          Allow::issuingPasscodes,
          Allow::managingSignIns,
          Allow::movingTheClock);

  @Test
  void without_a_duty_nothing_is_allowed() {
    ALL.forEach(what -> assertThatThrownBy(() -> what.accept(actor())).isInstanceOf(Refused.class));
    assertThat(Allow.seesEverybody(actor())).isFalse();
  }

  @Test
  void an_administrator_may_all_of_it() {
    ALL.forEach(what ->
        assertThatCode(() -> what.accept(actor(Duty.ADMINISTRATOR))).doesNotThrowAnyException());
  }

  @Test
  void an_auditor_changes_nothing() {
    CHANGING.forEach(what ->
        assertThatThrownBy(() -> what.accept(actor(Duty.AUDITOR))).isInstanceOf(Refused.class));
    assertThat(Allow.seesEverybody(actor(Duty.AUDITOR))).isTrue();
  }

  @Test
  void a_refusal_says_who_what_and_which_duty() {
    assertThatThrownBy(() -> Allow.loadingFeeds(actor(Duty.AUDITOR)))
        .hasMessage(
            "Una Kerrow may not load a feed: that needs the duty administrator or people-desk. Ask an administrator for it.");
  }
}
