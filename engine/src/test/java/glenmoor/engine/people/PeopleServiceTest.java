package glenmoor.engine.people;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.people.PeopleService.Listed;
import glenmoor.engine.people.PeopleService.Search;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

class PeopleServiceTest extends EngineTest {
  @BeforeEach
  void load() {
    environment.load(
        "W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,,,",
        "W-2,Bo,Tarn,Shipyard,Hallow Quay,W-1,2021-05-01,,2027-02-20,2027-03-10",
        "W-3,Aino,Räsänen,Deck,Westholm,W-2,2022-01-01,2027-02-01,,",
        "W-4,Lin,Ærø,Deck,Westholm,W-1,2027-03-20,,,");
  }

  private static Actor person(String worker, Duty... duties) {
    return new Actor("x", "x", worker, Stream.of(duties).map(Assignment::of).toList());
  }

  private List<String> found(
      @Nullable String text, Map<String, String> facts, @Nullable String standing, Actor actor) {
    return environment
        .people
        .list(new Search(text, facts, standing, null, null, 50, false), actor)
        .items()
        .stream()
        .map(Listed::worker)
        .toList();
  }

  @Test
  void names_are_found_however_they_are_written() {
    assertThat(found("rasanen", Map.of(), null, TestEnvironment.ISA)).containsExactly("W-3");
    assertThat(found("AERO", Map.of(), null, TestEnvironment.ISA)).containsExactly("W-4");
    assertThat(found("W-2", Map.of(), null, TestEnvironment.ISA)).containsExactly("W-2");
    assertThat(found("nobody", Map.of(), null, TestEnvironment.ISA)).isEmpty();
  }

  @Test
  void facts_and_standing_narrow_a_list() {
    assertThat(found(null, Map.of("department", "Deck"), null, TestEnvironment.ISA))
        .containsExactlyInAnyOrder("W-1", "W-3", "W-4");
    assertThat(found(null, Map.of("department", "Deck"), "active", TestEnvironment.ISA))
        .containsExactly("W-1");
    assertThat(found(null, Map.of(), "expected", TestEnvironment.ISA)).containsExactly("W-4");
    assertThat(found(null, Map.of(), "on-leave", TestEnvironment.ISA)).containsExactly("W-2");
    assertThat(found(null, Map.of(), "left", TestEnvironment.ISA)).containsExactly("W-3");
    assertThatThrownBy(() -> found(null, Map.of("shoe", "42"), null, TestEnvironment.ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("shoe");
  }

  @Test
  void a_list_is_paged_by_its_last_row_and_complete() {
    var all = new ArrayList<String>();
    String after = null;
    do {
      var page =
          environment.people.list(
              new Search(null, Map.of(), null, null, after, 1, true), TestEnvironment.ISA);
      page.items().forEach(each -> all.add(each.name()));
      assertThat(page.total()).isEqualTo(4);
      after = page.next();
    } while (after != null);
    assertThat(all).containsExactly("Aino Räsänen", "Bo Tarn", "Lin Ærø", "Una Kerrow");
  }

  @Test
  void a_list_is_sorted_by_the_service_either_way() {
    var search = new Search(null, Map.of(), null, "-worker", null, 2, false);
    assertThat(environment.people.list(search, TestEnvironment.ISA).items())
        .extracting(PeopleService.Listed::worker)
        .containsExactly("W-4", "W-3");
    assertThatThrownBy(() ->
            environment.people.list(
                new Search(null, Map.of(), null, "shoe", null, 2, false), TestEnvironment.ISA))
        .hasMessageContaining("name, worker, starts");
  }

  @Test
  void without_a_duty_one_sees_oneself_and_ones_reports() {
    assertThat(found(null, Map.of(), null, person("W-1")))
        .containsExactlyInAnyOrder("W-1", "W-2", "W-4");
    assertThat(environment.people.show("W-2", person("W-1")).person().name()).isEqualTo("Bo Tarn");
    assertThatThrownBy(() -> environment.people.show("W-1", person("W-2")))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("whom you may see");
    assertThatThrownBy(() -> environment.access.accounts("W-1", person("W-2")))
        .isInstanceOf(Refused.class);
    assertThat(environment.people.values("department", person("W-1"))).isEmpty();
  }

  @Test
  void somebody_who_is_no_person_sees_nobody_not_even_those_without_a_manager() {
    var nobody = new Actor("x", "x", null, List.of());
    assertThat(found(null, Map.of(), null, nobody)).isEmpty();
    for (var worker : List.of("W-1", "W-2")) {
      assertThatThrownBy(() -> environment.people.show(worker, nobody)).isInstanceOf(Refused.class);
      assertThatThrownBy(() -> environment.access.accounts(worker, nobody))
          .isInstanceOf(Refused.class);
    }
  }

  @Test
  void a_percent_sign_and_an_underscore_are_letters_in_a_search() {
    assertThat(found("%", Map.of(), null, TestEnvironment.ISA)).isEmpty();
    assertThat(found("_", Map.of(), null, TestEnvironment.ISA)).isEmpty();
    assertThat(found("w-", Map.of(), null, TestEnvironment.ISA)).hasSize(4);
  }

  @Test
  void a_duty_lets_one_see_everybody() {
    for (var duty : List.of(Duty.ADMINISTRATOR, Duty.AUDITOR, Duty.PEOPLE_DESK)) {
      assertThat(found(null, Map.of(), null, person("W-3", duty))).hasSize(4);
    }
  }

  @Test
  void a_person_is_shown_with_what_is_known() {
    var bo = environment.people.show("W-2", TestEnvironment.ISA);
    assertThat(bo.person().standing()).isEqualTo("on-leave");
    assertThat(bo.manager().name()).isEqualTo("Una Kerrow");
    assertThat(bo.reports()).isEqualTo(1);
    assertThat(bo.facts())
        .extracting("key")
        .contains("department", "leaveTo")
        .doesNotContain("end");
    assertThat(bo.standings())
        .extracting(span -> span.standing() + " " + span.from())
        .containsExactly("active 2021-05-01", "on-leave 2027-02-20", "active 2027-03-11");
    assertThatThrownBy(() -> environment.people.show("W-9", TestEnvironment.ISA))
        .hasMessageContaining("W-9");
  }

  @Test
  void values_are_counted_among_those_who_have_not_left() {
    assertThat(environment.people.values("department", TestEnvironment.ISA))
        .extracting(count -> count.value() + " " + count.people())
        .containsExactlyInAnyOrder("Deck 2", "Shipyard 1");
  }
}
