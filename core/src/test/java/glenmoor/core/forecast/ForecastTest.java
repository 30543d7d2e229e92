package glenmoor.core.forecast;

import static glenmoor.core.SkerryLine.NOW;
import static glenmoor.core.SkerryLine.TODAY;
import static glenmoor.core.SkerryLine.una;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.entry;

import glenmoor.core.SkerryLine;
import glenmoor.core.forecast.Forecast.Balance;
import glenmoor.core.people.Person;
import glenmoor.core.provisioning.Names;
import glenmoor.core.provisioning.PersonPlan;
import glenmoor.core.provisioning.PersonSnapshot;
import glenmoor.core.provisioning.Planner;
import java.util.List;
import org.junit.jupiter.api.Test;

class ForecastTest {
  private static PersonPlan joining(Person person) {
    var names = Names.free();
    return new Planner(SkerryLine.catalogue(), names, NOW)
        .plan(new PersonSnapshot(person, List.of(), List.of()));
  }

  @Test
  void nothing_counted_is_nothing() {
    var sum = new Forecast(SkerryLine.catalogue()).sum();
    assertThat(sum.people()).isZero();
    assertThat(sum.operations()).isZero();
    assertThat(sum.lines()).isEmpty();
  }

  @Test
  void a_joiner_is_what_their_plan_gives() {
    var forecast = new Forecast(SkerryLine.catalogue());
    var plan = joining(una("department", "Deck"));
    forecast.count(plan, "joiner");
    var sum = forecast.sum();
    assertThat(sum.events()).containsOnly(entry("joiner", 1));
    assertThat(sum.operations()).isEqualTo(plan.operations()).isEqualTo(5);
    assertThat(sum.operationsByKind()).containsOnly(entry("create", 2), entry("add", 3));
    assertThat(sum.byApplication())
        .containsOnly(
            entry("directory", new Balance(0, 2)), entry("chartshare", new Balance(0, 1)));
    assertThat(sum.byGroup()).containsOnly(entry("Deck", new Balance(0, 1)));
    assertThat(sum.lines())
        .singleElement()
        .satisfies(line -> {
          assertThat(line.name()).isEqualTo("Una Kerrow");
          assertThat(line.gains())
              .contains("directory account kerrowu", "directory/crew", "chartshare/charts");
          assertThat(line.losses()).isEmpty();
        });
  }

  @Test
  void whoever_starts_later_is_told_with_when_something_happens_first() {
    var forecast = new Forecast(SkerryLine.catalogue());
    forecast.count(joining(una("department", "Deck", "start", TODAY.plusDays(30))), "joiner");
    var line = forecast.sum().lines().getFirst();
    assertThat(line.gains()).isEmpty();
    assertThat(line.next())
        .as("seven days ahead, at midnight there")
        .isEqualTo(TODAY.plusDays(23).atStartOfDay(SkerryLine.ZONE).toInstant());
  }

  @Test
  void people_are_added_up_by_the_fact_that_groups_them_and_none_is_a_group_too() {
    var forecast = new Forecast(SkerryLine.catalogue());
    forecast.count(joining(una("department", "Deck")), "joiner");
    forecast.count(joining(una("department", "Deck")), "joiner");
    forecast.count(joining(una()), "");
    var sum = forecast.sum();
    assertThat(sum.groupedBy()).isEqualTo("department");
    assertThat(sum.people()).isEqualTo(3);
    assertThat(sum.events()).containsOnly(entry("joiner", 2));
    assertThat(sum.byGroup())
        .containsOnly(entry("Deck", new Balance(0, 2)), entry("no department", new Balance(0, 1)));
  }
}
