package glenmoor.cli.people;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.cli.Output.Column;
import java.util.List;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.json.JsonMapper;

/** The columns of a list of people are the facts that are configured to be. */
class PeopleColumnsTest {
  private static List<String> headings(String facts) {
    return PeopleCommand.columns(JsonMapper.shared().readTree(facts)).stream()
        .map(Column::heading)
        .toList();
  }

  @Test
  void facts_that_are_shown_as_columns_are_columns_whatever_they_are_called() {
    assertThat(
            headings(
                """
                [{"key": "ward", "name": "Ward"}, {"key": "shiftPattern", "name": "Shift pattern"}]
                """))
        .containsExactly("WORKER", "NAME", "STANDING", "WARD", "SHIFT PATTERN");
  }

  @Test
  void where_none_is_a_column_there_are_those_that_everybody_has() {
    assertThat(headings("[]")).containsExactly("WORKER", "NAME", "STANDING");
  }
}
