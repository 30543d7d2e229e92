package glenmoor.core.conditions;

import static glenmoor.core.SkerryLine.una;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.SkerryLine;
import glenmoor.core.people.Latin;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class ExpressionsTest {
  private final Expressions expressions = SkerryLine.catalogue().expressions();

  private boolean holds(String text, Object... facts) {
    return expressions.condition(text).holds(expressions.view(una(facts)));
  }

  @Test
  void a_condition_reads_facts_by_their_types() {
    assertThat(
            holds(
                "person.department == \"Deck\" && person.grade >= 3",
                "department",
                "Deck",
                "grade",
                3L))
        .isTrue();
    assertThat(holds("person.start < timestamp(\"2027-01-01T00:00:00Z\")")).isTrue();
  }

  @Test
  void an_absent_text_is_the_empty_text_and_an_absent_number_meets_nothing() {
    assertThat(holds("person.department == \"\"")).isTrue();
    assertThat(holds("person.grade >= 3")).isFalse();
    assertThat(holds("person.grade == null")).isTrue();
  }

  @Test
  void a_fact_that_does_not_exist_is_refused_with_its_place() {
    assertThatThrownBy(() -> expressions.condition("true && person.deparment == \"Deck\""))
        .isInstanceOfSatisfying(BadExpression.class, bad -> assertThat(bad.column()).isEqualTo(16))
        .hasMessageContaining("deparment");
  }

  @Test
  void comparing_a_number_with_a_text_is_refused() {
    assertThatThrownBy(() -> expressions.condition("person.grade == \"3\""))
        .isInstanceOf(BadExpression.class);
  }

  @Test
  void a_condition_must_be_a_question_and_a_mapping_a_text() {
    assertThatThrownBy(() -> expressions.condition("person.department"))
        .isInstanceOf(BadExpression.class);
    assertThatThrownBy(() -> expressions.mapping("1 + 1")).isInstanceOf(BadExpression.class);
  }

  @Test
  void a_condition_names_the_facts_it_reads() {
    assertThat(
            expressions
                .condition("person.grade > 2 || person.department == \"Deck\" || person.grade == 0")
                .factsNamed())
        .containsExactly("grade", "department");
  }

  @Test
  void a_mapping_sees_account_names() {
    var made =
        expressions
            .mapping("account.name + \" of \" + accounts[\"directory\"]")
            .value(expressions.view(una()), Map.of("directory", "kerrowu"), "una.k");
    assertThat(made).contains("una.k of kerrowu");
  }

  @Test
  void a_mapping_that_comes_to_nothing_is_nothing() {
    var view = expressions.view(una());
    assertThat(expressions.mapping("person.department").value(view, Map.of(), "")).isEmpty();
  }

  @ParameterizedTest
  @CsvSource({
    "Kerrow, kerrow",
    "Sæther, saether",
    "Ó Briain, obriain",
    "Wiśniewska, wisniewska",
    "Öz, oz",
    "Волков, volkov",
    "Παππά, pappa"
  })
  void names_of_any_script_fold_to_letters_an_account_can_have(String name, String folded) {
    assertThat(Latin.fold(name)).isEqualTo(folded);
  }

  @Test
  void initials_are_the_first_letter_of_each_word() {
    assertThat(Latin.initials("Una Mary")).isEqualTo("um");
    assertThat(Latin.initials("Ó Briain")).isEqualTo("ob");
    assertThat(Latin.initials("Anne-Sofie")).isEqualTo("as");
    assertThat(Latin.initials("Юлия")).isEqualTo("y");
    assertThat(Latin.initials(" ")).isEmpty();
  }

  @Test
  void folding_never_leaves_anything_but_letters_and_digits() {
    assertThat(Latin.fold("森 美穂")).matches("[a-z0-9]+");
    assertThat(Latin.fold("حداد")).matches("[a-z0-9]+");
    assertThat(Latin.slug("Deck & Navigation")).isEqualTo("deck-navigation");
  }
}
