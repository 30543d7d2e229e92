package glenmoor.engine.tasks;

import static glenmoor.engine.TestEnvironment.BO;
import static glenmoor.engine.TestEnvironment.ISA;
import static glenmoor.engine.TestEnvironment.UNA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.core.provisioning.OperationSearch;
import glenmoor.core.provisioning.OperationView;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.provisioning.TaskService;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Tasks that nobody does are told of: first to those who do them, then to those who answer. */
class TaskRemindersTest {
  private static final String DEFINITIONS =
      """
      application: radio-room
      name: Radio Room
      connector: none
      account:
        name: fold(person.family)
      ---
      entitlement: radio-room/channel-12
      technical: Channel 12
      ---
      package: radio
      entitlements: [radio-room/channel-12]
      ---
      birthright: radio
      package: radio
      where: person.department == "Deck"
      ---
      letters: skerry-line
      from: Skerry Line <glenmoor@skerryline.example>
      address: fold(person.family) + "@skerryline.example"
      ---
      letter: tasks-wait
      subject: Tasks wait
      body: 'Dear {{recipient.name}}, {{work}}'
      ---
      tasks: radio-room
      remind: 2 days
      escalate: 5 days
      letter: tasks-wait
      """;
  private static final String FIXER = "W-8,Kofi,Reid,Shipyard,Westholm,,2020-01-01,,,";
  private static final String OWNER = "W-9,Rhona,Vane,Shipyard,Westholm,,2020-01-01,,,";

  private TestEnvironment environment;

  @BeforeEach
  void load() {
    environment = new TestEnvironment().defined();
    environment.define(DEFINITIONS, false);
    environment.load(UNA, BO, FIXER, OWNER);
    environment.agenda.sweep();
    environment.start();
    TestEnvironment.eventually(() -> open().size() == 2);
  }

  @AfterEach
  void close() {
    environment.close();
  }

  private void signIn(String login, String worker, Assignment assignment) {
    var password = "a long enough passphrase of " + login;
    environment.signIns.put(login, login, worker, password, true, List.of(assignment), ISA);
  }

  private List<OperationView> open() {
    return environment.operations.search(
        new OperationSearch(List.of("fault", "task"), null, "radio-room", null, null, null, 50),
        ISA);
  }

  /** To whom was written, in order. */
  private List<String> told() {
    return environment.sql.queryForList(
        "select address from message where template = 'tasks-wait' order by id", String.class);
  }

  @Test
  void the_fixers_are_told_and_later_whoever_answers_for_the_application() {
    signIn("kofi", "W-8", Assignment.of(Duty.FIXER, "radio-room"));
    signIn("rhona", "W-9", Assignment.of(Duty.APPLICATION_OWNER, "radio-room"));
    environment.at("2027-03-03T05:00:00Z");
    assertThat(told()).as("not before two days").isEmpty();
    environment.at("2027-03-03T08:00:00Z");
    assertThat(told()).containsExactly("reid@skerryline.example");
    environment.at("2027-03-05T08:00:00Z");
    assertThat(told()).as("again after as long").hasSize(2);
    environment.at("2027-03-06T08:00:00Z");
    assertThat(told()).hasSize(3).last().isEqualTo("vane@skerryline.example");
    assertThat(
            environment.sql.queryForObject(
                "select min(body) from message where template = 'tasks-wait'", String.class))
        .contains("2 tasks wait in Radio Room, the oldest since 1 Mar 2027")
        .contains("Make an account called kerrow for W-1");
  }

  @Test
  void looking_twice_tells_once() {
    signIn("kofi", "W-8", Assignment.of(Duty.FIXER, "radio-room"));
    environment.at("2027-03-03T08:00:00Z");
    environment.get(TaskReminders.class).carryOut();
    environment.get(TaskReminders.class).carryOut();
    assertThat(told()).hasSize(1);
  }

  @Test
  void what_was_done_is_told_of_to_nobody() {
    signIn("kofi", "W-8", Assignment.of(Duty.FIXER, "radio-room"));
    environment
        .get(TaskService.class)
        .decide(
            open().stream().map(OperationView::id).toList(), "by-hand", "at the desk", null, ISA);
    environment.at("2027-03-20T08:00:00Z");
    assertThat(told()).isEmpty();
  }

  @Test
  void where_there_is_nobody_the_administrators_are_told() {
    signIn("rhona", "W-9", Assignment.of(Duty.ADMINISTRATOR));
    environment.at("2027-03-03T08:00:00Z");
    assertThat(told()).containsExactly("vane@skerryline.example");
  }

  @Test
  void one_without_an_address_keeps_nobody_else_from_being_told() {
    environment.define(
        """
        letters: skerry-line
        from: Skerry Line <glenmoor@skerryline.example>
        address: 'person.family == "Reid" ? "" : fold(person.family) + "@skerryline.example"'
        """,
        false);
    signIn("kofi", "W-8", Assignment.of(Duty.FIXER, "radio-room"));
    signIn("rhona", "W-9", Assignment.of(Duty.FIXER, "radio-room"));
    environment.at("2027-03-03T08:00:00Z");
    assertThat(told()).containsExactly("vane@skerryline.example");
  }

  @Test
  void rules_that_cannot_be_are_found_at_save() {
    assertThatThrownBy(() -> environment.define("tasks: radio-room\nletter: nothing\n", false))
        .hasMessageContaining("There is no letter “nothing”");
    assertThatThrownBy(() ->
            environment.define(
                "tasks: radio-room\nremind: 5 days\nescalate: 2 days\nletter: tasks-wait\n", false))
        .hasMessageContaining("escalate must be longer than remind");
  }
}
