package glenmoor.engine.definitions;

import static glenmoor.engine.TestEnvironment.BO;
import static glenmoor.engine.TestEnvironment.ISA;
import static glenmoor.engine.TestEnvironment.UNA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.letters.MessageService;
import glenmoor.engine.playbooks.RunViews;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Definitions are looked at while they are written, and nothing of it is kept. */
class DefinitionDraftsTest extends EngineTest {
  private static final String LETTERS =
      """
      letters: skerry-line
      from: Skerry Line <glenmoor@skerryline.example>
      address: fold(person.family) + "@skerryline.example"
      ---
      letter: welcome
      subject: Welcome, {{person.given}}
      body: Dear {{recipient.name}}
      ---
      playbook: first-day
      on: joiner
      steps:
      - letter: welcome
      """;
  private static final String GONE = "W-3,Ottilie,Voe,Deck,Westholm,,2020-01-01,2027-01-31,,";

  private DefinitionDrafts drafts;

  @BeforeEach
  void load() {
    environment.define(LETTERS, false);
    environment.load(UNA, BO, GONE);
    drafts = environment.get(DefinitionDrafts.class);
  }

  private static String playbook(String where) {
    return """
    playbook: first-day
    on: joiner
    where: %s
    steps:
    - letter: welcome
    """
        .formatted(where);
  }

  private RunViews.Drafted tried(String where, String worker) {
    return environment.get(RunViews.class).draft("first-day", playbook(where), worker, ISA);
  }

  @Test
  void one_definition_is_given_as_it_would_stand_in_a_file() {
    assertThat(drafts.text("letter", "welcome", ISA))
        .startsWith("letter: welcome")
        .contains("Welcome, {{person.given}}")
        .doesNotContain("playbook");
    assertThatThrownBy(() -> drafts.text("letter", "nothing", ISA)).isInstanceOf(Refused.class);
  }

  @Test
  void what_is_wrong_is_said_at_its_line_and_nothing_is_changed() {
    var checked =
        drafts.check("letter: welcome\nsubject: Welcome\nbody: Dear {{person.grad}}\n", ISA);
    assertThat(checked.mistakes()).hasSize(1);
    assertThat(checked.mistakes().getFirst().pointer()).isEqualTo("here line 3");
    assertThat(checked.mistakes().getFirst().sentence()).contains("grad");
    assertThat(drafts.text("letter", "welcome", ISA)).contains("Dear {{recipient.name}}");
  }

  @Test
  void what_loading_it_would_change_is_said() {
    assertThat(drafts.check(drafts.text("letter", "welcome", ISA), ISA).changes()).isEmpty();
    var changed = drafts.check("letter: welcome\nsubject: Hail\nbody: Hail\n", ISA);
    assertThat(changed.mistakes()).isEmpty();
    assertThat(changed.changes()).extracting(Difference::change).containsExactly("changed");
  }

  @Test
  void a_letter_reads_as_it_is_being_written() {
    var letters = environment.get(MessageService.class);
    var draft = "letter: welcome\nsubject: Hail, {{person.given}}\nbody: Hail\n";
    assertThat(letters.previewDraft("welcome", draft, "W-1", ISA).subject()).isEqualTo("Hail, Una");
    assertThat(letters.preview("welcome", "W-1", ISA).subject()).isEqualTo("Welcome, Una");
    assertThat(environment.number("select count(*) from message")).isZero();
  }

  @Test
  void for_how_many_a_playbook_is_stands_beside_it() {
    assertThat(tried("person.department == \"Deck\"", null).audience().people())
        .as("who has left is not counted")
        .isOne();
    assertThat(tried("person.department == \"Deck\"", null).audience().of()).isEqualTo(2);
    assertThat(tried("true", null).audience().people()).isEqualTo(2);
    assertThat(tried("person.name == \"Bo Tarn\"", null).audience().people()).isOne();
    assertThat(tried("person.location == \"Nowhere\"", null).audience().people()).isZero();
  }

  @Test
  void it_is_rehearsed_as_it_is_being_written() {
    var drafted = tried("person.department == \"Deck\"", "W-2");
    assertThat(drafted.rehearsal()).isNotNull();
    assertThat(drafted.rehearsal().isFor()).as("Bo works in the shipyard").isFalse();
    assertThat(drafted.rehearsal().steps().getFirst().sentence()).contains("Welcome, Bo");
    assertThat(environment.number("select count(*) from playbook_run")).isZero();
  }

  @Test
  void a_draft_with_mistakes_is_not_rehearsed() {
    assertThatThrownBy(() -> tried("person.grad == 1", "W-1"))
        .isInstanceOfSatisfying(
            Refused.class, refused -> assertThat(refused.mistakes()).isNotEmpty());
  }

  @Test
  void who_may_not_see_definitions_sees_no_draft() {
    var nobody = new Actor("una", "Una", "W-1", List.of());
    assertThatThrownBy(() -> drafts.check("letter: x", nobody)).isInstanceOf(Refused.class);
    assertThatThrownBy(() -> drafts.text("letter", "welcome", nobody)).isInstanceOf(Refused.class);
    assertThatThrownBy(() ->
            environment.get(RunViews.class).draft("first-day", playbook("true"), null, nobody))
        .isInstanceOf(Refused.class);
  }
}
