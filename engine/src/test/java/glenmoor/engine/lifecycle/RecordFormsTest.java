package glenmoor.engine.lifecycle;

import static glenmoor.engine.TestEnvironment.ISA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.people.PeopleService;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Records that the people desk writes itself. */
class RecordFormsTest extends EngineTest {
  private static final Map<String, String> SIGNE =
      Map.of("given", "Signe", "family", "Rysa", "department", "Deck", "start", "2027-02-01");
  private RecordForms forms;

  @BeforeEach
  void defined() {
    environment.define("source: partners\nmode: changes\nform: yes\n", false);
    forms = environment.get(RecordForms.class);
  }

  @Test
  void a_form_asks_for_every_fact_and_writes_people() {
    assertThat(forms.forms(ISA))
        .singleElement()
        .satisfies(form ->
            assertThat(form.facts()).extracting(each -> each.key()).contains("given", "start"));
    assertThat(forms.show("partners", "P-7", ISA).known()).isFalse();
    assertThat(forms.write("partners", "P-7", SIGNE, "", ISA).loaded().events())
        .containsOnlyKeys("joiner");
    environment.agenda.sweep();
    environment.sent();
    assertThat(environment.groups("P-7")).containsExactly("Charts");
    assertThat(forms.show("partners", "P-7", ISA).facts()).containsAllEntriesOf(SIGNE);
    assertThat(forms.write("partners", "P-7", SIGNE, "", ISA).loaded().events()).isEmpty();
  }

  private List<String> of(String source, Actor actor) {
    var search = new PeopleService.Search(null, Map.of(), null, source, null, null, 50, true);
    var page = environment.people.list(search, actor);
    assertThat(page.total()).isEqualTo(page.items().size());
    return page.items().stream().map(PeopleService.Listed::worker).toList();
  }

  @Test
  void who_was_written_by_hand_is_listed_to_those_who_may_see_them() {
    environment.load(TestEnvironment.UNA, TestEnvironment.BO);
    forms.write("partners", "P-7", SIGNE, "", ISA);
    var hers = new HashMap<>(SIGNE);
    hers.putAll(Map.of("given", "Aino", "manager", "W-1"));
    forms.write("partners", "P-8", hers, "", ISA);
    assertThat(of("partners", ISA)).containsExactly("P-8", "P-7");
    assertThat(of("people-office", ISA)).containsExactly("W-2", "W-1");
    assertThat(of("partners", new Actor("una", "Una", "W-1", List.of()))).containsExactly("P-8");
    assertThat(of("partners", new Actor("bo", "Bo", "W-2", List.of()))).isEmpty();
    assertThatThrownBy(() -> of("visitors", ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("There is no source “visitors”; say one of partners, people-office");
  }

  @Test
  void what_cannot_be_used_is_told_and_nothing_is_kept() {
    assertThatThrownBy(() ->
            forms.write("partners", "P-7", Map.of("given", "Signe", "start", "soon"), "", ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("start is “soon”");
    assertThatThrownBy(() -> forms.write("partners", " ", SIGNE, "", ISA))
        .isInstanceOf(Refused.class);
    assertThatThrownBy(() -> forms.write("partners", "P-7", Map.of("rank", "7"), "", ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("does not ask for “rank”");
    assertThat(environment.number("select count(*) from person")).isZero();
  }

  @Test
  void whoever_comes_from_elsewhere_is_not_written_over_and_nobody_else_writes() {
    environment.load(TestEnvironment.UNA);
    assertThatThrownBy(() -> forms.write("partners", "W-1", SIGNE, "", ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("comes from the source people-office");
    var una = new Actor("una", "Una", "W-1", List.of());
    assertThat(forms.forms(una)).isEmpty();
    assertThatThrownBy(() -> forms.write("partners", "P-7", SIGNE, "", una))
        .isInstanceOf(Refused.class);
    assertThatThrownBy(() -> forms.show("partners", "P-7", una)).isInstanceOf(Refused.class);
  }
}
