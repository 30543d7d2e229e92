package glenmoor.engine.provisioning;

import static glenmoor.engine.TestEnvironment.ISA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.core.provisioning.OperationSearch;
import glenmoor.core.provisioning.OperationView;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.reconcile.Reconciles;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** An application in which people do what is to be done. */
class TasksTest {
  private static final String RADIO_ROOM =
      """
      application: radio-room
      name: Radio Room
      connector: none
      settings: {by: the radio officers}
      account:
        name: fold(person.family)
        attributes: {called: person.name}
      care: {hold: 30 days, after-hold: delete}
      ---
      entitlement: radio-room/channel-12
      technical: Channel 12
      name: Speaking on channel 12
      ---
      package: radio
      name: Radio
      entitlements: [radio-room/channel-12]
      ---
      birthright: radio
      package: radio
      where: person.department == "Deck"
      """;

  private TestEnvironment environment;
  private TaskService tasks;

  @BeforeEach
  void load() {
    environment = new TestEnvironment().defined();
    environment.define(RADIO_ROOM, false);
    environment.load(TestEnvironment.UNA, TestEnvironment.BO);
    environment.agenda.sweep();
    environment.start();
    tasks = environment.get(TaskService.class);
    waitForTasks(2);
  }

  @AfterEach
  void close() {
    environment.close();
  }

  private void waitForTasks(int number) {
    TestEnvironment.eventually(
        () -> environment.number("select count(*) from operation where state = 'task'") == number);
  }

  private List<OperationView> open() {
    return environment.operations.search(
        new OperationSearch(List.of("fault", "task"), null, "radio-room", null, null, null, 50),
        ISA);
  }

  private TaskService.Decided done() {
    return tasks.decide(
        open().stream().map(OperationView::id).toList(), "by-hand", "done at the desk", null, ISA);
  }

  @Test
  void what_is_to_be_done_is_said_in_plain_words_and_done_when_somebody_says_so() {
    assertThat(open())
        .extracting(OperationView::reason)
        .containsExactlyInAnyOrder(
            "Make an account called kerrow for W-1; with called Una Kerrow.",
            "Give “Channel 12” to the account kerrow of W-1.");
    assertThat(
            environment.number(
                "select count(*) from holding where entitlement = 'radio-room/channel-12' and observed"))
        .as("not before somebody says so")
        .isZero();
    assertThat(done().decided()).isEqualTo(2);
    assertThat(open()).isEmpty();
    assertThat(
            environment.number(
                "select count(*) from holding where entitlement = 'radio-room/channel-12' and observed"))
        .isOne();
    assertThat(environment.happened("operation:" + firstOperation()))
        .as("its words end by hand")
        .last()
        .isEqualTo("operation-by-hand");
  }

  private long firstOperation() {
    return environment.number("select min(id) from operation where application = 'radio-room'");
  }

  @Test
  void a_task_that_is_not_needed_any_more_is_taken_off_the_list() {
    environment.load("W-1,Una,Kerrow,Shipyard,Westholm,,2020-01-01,,,", TestEnvironment.BO);
    environment.agenda.sweep();
    TestEnvironment.eventually(
        () -> open().stream().noneMatch(task -> task.kind().equals("create")));
    TestEnvironment.eventually(() ->
        environment.number(
                "select count(*) from operation where application = 'radio-room' and state = 'waiting'")
            == 0);
    assertThat(open())
        .as("nobody is sent to take what was never given")
        .extracting(OperationView::reason)
        .containsExactly("Shut the account kerrow of W-1, if it was made already.");
    assertThat(
            environment.number(
                "select count(*) from operation where application = 'radio-room' and kind = 'create' and state = 'superseded'"))
        .isOne();
  }

  @Test
  void a_leaver_gives_a_task_to_shut_the_account() {
    done();
    environment.load("W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,2027-02-01,,", TestEnvironment.BO);
    environment.agenda.sweep();
    TestEnvironment.eventually(() ->
        open().stream().anyMatch(task -> task.reason().equals("Shut the account kerrow of W-1.")));
  }

  @Test
  void one_that_cannot_be_decided_keeps_no_other_from_being() {
    var id = open().getFirst().id();
    var decided = tasks.decide(List.of(id, id, 7L), "by-hand", "done", null, ISA);
    assertThat(decided.decided()).isOne();
    assertThat(decided.left())
        .singleElement()
        .satisfies(left -> assertThat(left.operation()).isEqualTo(7));
  }

  @Test
  void a_task_that_is_given_up_is_a_difference_somebody_answers_for() {
    var id = firstOperation();
    tasks.decide(List.of(id), "give-up", "she has none", null, ISA);
    assertThat(environment.faults.deviations("radio-room", null, 10, ISA)).hasSize(1);
    assertThat(open()).as("nothing is given in an account that is not made").isEmpty();
  }

  @Test
  void who_is_nobodys_fixer_decides_nothing_and_a_reason_is_needed() {
    var ids = open().stream().map(OperationView::id).toList();
    var elsewhere =
        new Actor("kofi", "Kofi", "W-2", List.of(Assignment.of(Duty.FIXER, "chartshare")));
    assertThat(tasks.decide(ids, "by-hand", "done", null, elsewhere).decided()).isZero();
    assertThatThrownBy(() -> tasks.decide(ids, "by-hand", " ", null, ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("Say why");
    assertThatThrownBy(() -> tasks.decide(ids, "perhaps", "x", null, ISA))
        .hasMessageContaining("retry, by-hand, give-up");
    assertThatThrownBy(() -> tasks.decide(List.of(), "retry", "", null, ISA))
        .isInstanceOf(Refused.class);
    assertThat(open()).hasSize(2);
  }

  @Test
  void nobody_can_look_into_it_so_it_is_not_compared() {
    assertThatThrownBy(() -> environment.get(Reconciles.class).begin("radio-room", ISA))
        .hasMessageContaining("cannot list accounts");
  }
}
