package glenmoor.engine.authorization;

import static glenmoor.engine.TestEnvironment.BO;
import static glenmoor.engine.TestEnvironment.UNA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;
import glenmoor.core.provisioning.OperationSearch;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.StatedReason;
import glenmoor.engine.TestEnvironment;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

class DutiesTest extends EngineTest {
  private static final StatedReason WHY = new StatedReason("the new season");
  private static final OperationSearch ALL =
      new OperationSearch(null, null, null, null, null, null, 50);

  @BeforeEach
  void signIn() {
    environment.load(UNA, BO);
    environment.signIns.put(
        "una", "", "W-1", "harbour lights", true, List.of(), TestEnvironment.ISA);
  }

  private Actor una() {
    return environment.signIns.named("una").orElseThrow();
  }

  private Duties.Given give(String words, LocalDate from, LocalDate until) {
    return environment.duties.give(
        "una", environment.duties.read(words, from, until), WHY, TestEnvironment.ISA);
  }

  @Test
  void a_duty_is_given_for_a_time_and_ends_by_itself() {
    give("auditor", LocalDate.of(2027, 3, 2), LocalDate.of(2027, 3, 3));
    assertThat(una().may(Permission.READ_LEDGER)).isFalse();
    environment.clock.moveTo(Instant.parse("2027-03-02T00:00:01Z"));
    assertThat(una().may(Permission.READ_LEDGER)).isTrue();
    environment.clock.moveTo(Instant.parse("2027-03-04T00:00:01Z"));
    assertThat(una().may(Permission.READ_LEDGER)).isFalse();
  }

  @Test
  void a_fixer_sees_and_mends_one_application_as_if_there_were_no_other() {
    var other = new Actor("x", "X", null, List.of(Assignment.of(Duty.FIXER, "elsewhere")));
    give("fixer:chartshare", null, null);
    var operation = environment.operations.search(ALL, una()).getFirst();
    assertThat(environment.applications.list(una())).hasSize(1);
    assertThat(environment.operations.show(operation.id(), una()).application())
        .isEqualTo("chartshare");
    assertThat(environment.operations.search(ALL, other)).isEmpty();
    assertThat(environment.applications.list(other)).isEmpty();
    assertThatThrownBy(() -> environment.operations.show(operation.id(), other))
        .hasMessageContaining("There is no operation");
    assertThatThrownBy(() -> environment.retries.retry(operation.id(), other))
        .hasMessageContaining("There is no operation");
    assertThatThrownBy(() -> environment.faults.byHand(operation.id(), "done", other))
        .hasMessageContaining("There is no operation");
    assertThatThrownBy(() -> environment.applications.test("chartshare", other))
        .hasMessageContaining("There is no application");
    assertThatThrownBy(() ->
            environment.operations.search(
                new OperationSearch(null, null, "chartshare", null, null, null, 50), other))
        .hasMessageContaining("There is no application");
    assertThat(environment.today.page(other).faults()).isEmpty();
    assertThat(environment.today.find("chart", other)).isEmpty();
    assertThat(environment.today.find("chart", una())).isNotEmpty();
  }

  @Test
  void an_owner_sees_their_application_and_decides_nothing_in_it() {
    give("application-owner:chartshare", null, null);
    var operation = environment.operations.search(ALL, una()).getFirst();
    assertThatThrownBy(() -> environment.retries.retry(operation.id(), una()))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("needs the duty administrator or fixer");
    assertThatThrownBy(() -> environment.operations.issuePasscode("W-1", "chartshare", una()))
        .isInstanceOf(Refused.class);
  }

  @Test
  void a_duty_that_is_taken_is_kept_with_who_and_why() {
    var given = give("auditor", null, null);
    assertThat(given.inForce()).isTrue();
    var ended =
        environment.duties.end(given.id(), new StatedReason("moved on"), TestEnvironment.ISA);
    assertThat(ended.endReason()).isEqualTo("moved on");
    assertThat(una().may(Permission.READ_LEDGER)).isFalse();
    assertThat(environment.duties.list(false, Long.MAX_VALUE, 9, TestEnvironment.ISA)).isEmpty();
    assertThat(environment.duties.list(true, Long.MAX_VALUE, 9, TestEnvironment.ISA))
        .containsExactly(ended);
    assertThat(environment.happened("login:una")).endsWith("duty-given", "duty-ended");
    assertThatThrownBy(() -> environment.duties.end(-77, WHY, TestEnvironment.ISA))
        .hasMessageContaining("There is no duty");
  }

  @Test
  void the_same_duty_given_anew_takes_the_new_dates() {
    give("auditor", null, null);
    give("auditor", null, LocalDate.of(2027, 3, 31));
    assertThat(environment.duties.list(false, Long.MAX_VALUE, 9, TestEnvironment.ISA))
        .singleElement()
        .extracting(Duties.Given::until)
        .isEqualTo(LocalDate.of(2027, 3, 31));
  }

  @Test
  void the_last_administrator_neither_loses_the_duty_nor_gets_an_end_of_it() {
    var given = give("administrator", null, null);
    assertThatThrownBy(() -> environment.duties.end(given.id(), WHY, TestEnvironment.ISA))
        .hasMessageContaining("last administrator");
    assertThatThrownBy(() -> give("administrator", null, LocalDate.of(2027, 3, 31)))
        .hasMessageContaining("last administrator");
    environment.signIns.put(
        "bo",
        "",
        "W-2",
        "harbour lights",
        true,
        List.of(
            new Assignment(Duty.ADMINISTRATOR, Scope.EVERYTHING, null, LocalDate.of(2099, 1, 1))),
        TestEnvironment.ISA);
    assertThatThrownBy(() -> environment.duties.end(given.id(), WHY, TestEnvironment.ISA))
        .as("one that runs out is no successor")
        .hasMessageContaining("last administrator");
    environment.duties.give("bo", Assignment.of(Duty.ADMINISTRATOR), WHY, TestEnvironment.ISA);
    assertThat(environment.duties.end(given.id(), WHY, TestEnvironment.ISA).inForce()).isFalse();
  }

  @Test
  void what_cannot_be_given_is_refused_with_what_would_do() {
    assertThatThrownBy(() -> give("captain", null, null))
        .hasMessageContaining("There is no duty “captain”");
    assertThatThrownBy(() -> give("fixer", null, null))
        .hasMessageContaining("fixer:KEY with one of chartshare");
    assertThatThrownBy(() -> give("fixer:nowhere", null, null)).hasMessageContaining("chartshare");
    assertThatThrownBy(() -> give("auditor:chartshare", null, null))
        .hasMessageContaining("leave “:chartshare” out");
    assertThatThrownBy(() -> give("auditor", LocalDate.of(2027, 3, 9), LocalDate.of(2027, 3, 1)))
        .hasMessageContaining("before it begins");
    assertThatThrownBy(() ->
            environment.duties.give(
                "nobody", Assignment.of(Duty.AUDITOR), WHY, TestEnvironment.ISA))
        .hasMessageContaining("There is no sign-in");
  }

  @Test
  void nobody_gives_duties_but_who_manages_sign_ins() {
    var auditor = new Actor("eva", "Eva Holm", null, List.of(Assignment.of(Duty.AUDITOR)));
    assertThatThrownBy(
            () -> environment.duties.give("una", Assignment.of(Duty.AUDITOR), WHY, auditor))
        .isInstanceOf(Refused.class);
    assertThat(environment.duties.list(true, Long.MAX_VALUE, 9, auditor)).isEmpty();
    assertThatThrownBy(() -> environment.duties.list(true, Long.MAX_VALUE, 9, una()))
        .isInstanceOf(Refused.class);
  }
}
