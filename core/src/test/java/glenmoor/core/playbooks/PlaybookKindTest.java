package glenmoor.core.playbooks;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.SkerryLine;
import glenmoor.core.definitions.Problem;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class PlaybookKindTest {
  private static final String AROUND =
      """
      letters: skerry-line
      from: Skerry Line <glenmoor@skerryline.example>
      address: person.worker + "@skerryline.example"
      ---
      letter: welcome
      subject: Welcome, {{person.given}}
      body: You begin on {{day}}.
      ---
      letter: secret
      subject: A passcode
      body: It is {{passcode}}.
      ---
      channel: help-desk
      kind: tickets
      url: https://desk.skerryline.example/events
      secret-file: help-desk
      ---
      """;

  private static List<String> wrong(String playbook) {
    return SkerryLine.problems(AROUND + playbook).stream().map(Problem::sentence).toList();
  }

  private static List<String> withStep(String step) {
    return wrong("playbook: p\non: joiner\nsteps:\n- " + step.replace(" / ", "\n  ") + "\n");
  }

  @Test
  void what_is_right_is_read() {
    assertThat(withStep("letter: welcome / at: 1 day before, 18:00 / within: 2 days")).isEmpty();
    assertThat(withStep("passcode: directory / letter: secret / to: manager")).isEmpty();
    assertThat(
            withStep(
                "passcode: directory / letter: secret\n- reset: directory / unless: changed / at: 3 days after"))
        .isEmpty();
    assertThat(withStep("ask: 'Is {{person.name}} to go?' / of: fixers of directory")).isEmpty();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          reset: directory / unless: late             | unless is “late”; say changed
          reset: directory / unless: changed          | No step before this one sets a passcode in directory
          letter: farewell                            | There is no letter “farewell”; there are
          letter: secret                              | tells a passcode; send it by a step that makes one
          letter: welcome / to: everybody             | to is “everybody”; say one of person, manager
          letter: welcome / to: owners of nowhere     | There is no application “nowhere”
          letter: welcome / at: tomorrow              | at is “tomorrow”; say a day as seen from the event
          letter: welcome / within: 2 days            | within says how long after its time
          letter: welcome / where: person.rank == 1   | there is no fact rank
          letter: welcome / too: person               | too means nothing here
          passcode: directory / letter: welcome       | does not tell the passcode
          sing: a song                                | “sing” is nothing it could do
          give: crown                                 | There is no package “crown”
          wait: a while                               | say minutes, hours or days
          ask: Really? / of: person                   | Nobody is asked about themselves
          ask: 'Is {{person.rank}} right?'            | there is no fact rank
          ask: 'Is {{person.name right?'              | one is not closed
          ticket: close / in: help-desk / text: Done  | No step before this one opens a ticket
          ticket: open / in: chat-room / text: Hello  | There is no channel of the kind tickets “chat-room”
          hand-over: deputy                           | goes to their manager: say manager
          """)
  void a_step_that_is_wrong_is_told_where_and_why(String step, String sentence) {
    assertThat(withStep(step)).singleElement().asString().contains(sentence);
  }

  @Test
  void steps_are_done_in_their_order() {
    assertThat(
            wrong(
                """
                playbook: p
                on: joiner
                steps:
                - letter: welcome
                  at: on the day
                - letter: welcome
                  at: 1 day before, 18:00
                """))
        .singleElement()
        .asString()
        .contains("1 day before, 18:00, before the one above it (on the day)");
  }

  @Test
  void a_playbook_that_begins_itself_is_refused() {
    var circle =
        """
        playbook: a
        on: grant-begins
        package: deck
        steps:
        - end: deck
        ---
        playbook: b
        on: grant-ends
        package: deck
        steps:
        - give: deck
        """;
    assertThat(wrong(circle)).anyMatch(each -> each.contains("again and again: a → b → a"));
    assertThat(wrong(circle.replace("- end: deck", "- letter: welcome"))).isEmpty();
  }

  @Test
  void what_it_begins_on_is_known() {
    assertThat(wrong("playbook: p\non: birthday\nsteps:\n- letter: welcome\n"))
        .singleElement()
        .asString()
        .contains("on is “birthday”; say one of joiner");
    assertThat(wrong("playbook: p\non: schedule\nsteps:\n- letter: welcome\n"))
        .singleElement()
        .asString()
        .contains("needs at");
    assertThat(wrong("playbook: p\non: joiner\n")).singleElement().asString().contains("has steps");
  }
}
