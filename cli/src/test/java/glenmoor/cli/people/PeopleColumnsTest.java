package glenmoor.cli.people;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.cli.Output.Column;
import java.util.List;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.json.JsonMapper;

/** The columns of a list of people follow the facts that people have, whatever they are called. */
class PeopleColumnsTest {
  private static List<String> headings(String people) {
    return PeopleCommand.columns(JsonMapper.shared().readTree(people)).stream()
        .map(Column::heading)
        .toList();
  }

  @Test
  void at_skerry_line_they_are_job_department_and_location() {
    assertThat(
            headings(
                """
                [{"facts": {"given": "Una", "location": "Westholm", "jobTitle": "Mate", "department": "Deck", "grade": 4}}]
                """))
        .containsExactly("WORKER", "NAME", "STANDING", "JOB TITLE", "DEPARTMENT", "LOCATION");
  }

  @Test
  void where_other_facts_are_configured_no_fact_of_skerry_line_has_a_column() {
    assertThat(
            headings(
                """
                [{"facts": {"ward": "North", "start": "2027-01-01"}}, {"facts": {"shiftPattern": "nights"}}]
                """))
        .containsExactly("WORKER", "NAME", "STANDING", "SHIFT PATTERN", "WARD");
  }

  @Test
  void nobody_has_the_columns_that_everybody_has() {
    assertThat(headings("[]")).containsExactly("WORKER", "NAME", "STANDING");
  }
}
