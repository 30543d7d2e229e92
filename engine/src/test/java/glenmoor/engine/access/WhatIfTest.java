package glenmoor.engine.access;

import static glenmoor.engine.TestEnvironment.BO;
import static glenmoor.engine.TestEnvironment.ISA;
import static glenmoor.engine.TestEnvironment.UNA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.tuple;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.core.forecast.WhatIf;
import glenmoor.core.forecast.WhatIf.Fate;
import glenmoor.core.forecast.WhatIf.Right;
import glenmoor.core.lifecycle.EventKind;
import glenmoor.core.people.Standing;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What would become of somebody, and that nothing does. */
class WhatIfTest extends EngineTest {
  private WhatIfService whatIf;

  @BeforeEach
  void load() {
    environment.load(UNA, BO);
    environment.sent();
    whatIf = environment.get(WhatIfService.class);
  }

  private WhatIfService.Answer ask(String worker, String... said) {
    var facts = new HashMap<String, String>();
    for (var each : said) {
      var parts = each.split("=", 2);
      facts.put(parts[0], parts[1]);
    }
    return whatIf.ask(worker, facts, ISA);
  }

  private static Map<Fate, Long> fates(WhatIfService.Answer answer) {
    return answer.whatIf().rights().stream()
        .collect(Collectors.groupingBy(Right::fate, Collectors.counting()));
  }

  @Test
  void a_move_gains_keeps_and_loses_and_nothing_happens() {
    var before = environment.number("select count(*) from ledger_entry");
    var answer = ask("W-1", "department=Shipyard", "location=Hallow Quay");
    assertThat(answer.event()).isEqualTo(EventKind.MOVER);
    assertThat(answer.whatIf().rights())
        .extracting(Right::entitlement, Right::fate)
        .containsExactlyInAnyOrder(
            tuple("chartshare/charts", Fate.KEPT),
            tuple("chartshare/drawings", Fate.GAINED),
            tuple("chartshare/westholm", Fate.LOST));
    assertThat(answer.whatIf().accounts())
        .extracting(WhatIf.AccountChange::what)
        .containsExactly("changed, 1 right taken, 1 right given");
    assertThat(environment.number("select count(*) from ledger_entry")).isEqualTo(before);
    assertThat(environment.groups("W-1")).containsExactlyInAnyOrder("Charts", "Westholm");
  }

  @Test
  void what_a_grace_keeps_is_at_risk_until_its_end() {
    var answer = ask("W-2", "department=Deck");
    assertThat(answer.whatIf().rights())
        .extracting(
            Right::entitlement,
            Right::fate,
            right -> right.until() == null ? "" : right.until().toString().substring(0, 10))
        .containsExactlyInAnyOrder(
            tuple("chartshare/charts", Fate.KEPT, ""),
            tuple("chartshare/drawings", Fate.AT_RISK, "2027-03-06"));
  }

  @Test
  void an_end_is_a_leaver_who_keeps_nothing() {
    var answer = ask("W-2", "end=2027-02-27");
    assertThat(answer.event()).isEqualTo(EventKind.LEAVER);
    assertThat(answer.standing()).isEqualTo(Standing.LEFT);
    assertThat(fates(answer)).containsOnlyKeys(Fate.LOST);
  }

  @Test
  void the_same_facts_change_nothing() {
    var answer = ask("W-1", "department=Deck");
    assertThat(answer.event()).isNull();
    assertThat(fates(answer)).containsOnlyKeys(Fate.KEPT);
    assertThat(answer.whatIf().accounts()).isEmpty();
  }

  @Test
  void what_cannot_be_is_refused_with_what_can() {
    assertThatThrownBy(() -> whatIf.ask("W-1", Map.of(), ISA)).hasMessageContaining("Say what");
    assertThatThrownBy(() -> ask("W-1", "shoes=9")).hasMessageContaining("no fact “shoes”");
    assertThatThrownBy(() -> ask("W-1", "end=soon")).hasMessageContaining("year-month-day");
    assertThatThrownBy(() -> ask("W-1", "manager=W-77")).hasMessageContaining("nobody has");
    assertThatThrownBy(() -> ask("W-77", "department=Deck")).isInstanceOf(Refused.class);
    var manager = new Actor("una", "Una Kerrow", "W-1", List.of());
    assertThatThrownBy(() -> whatIf.ask("W-2", Map.of("department", "Deck"), manager))
        .hasMessageContaining("may not see everybody");
  }

  @Test
  void a_mapping_is_shown_beside_what_was_seen_to_whom_it_concerns() {
    var preview = environment.get(MappingPreview.class);
    environment.patch(
        "/Users/" + environment.user("W-1").path("id").asString(),
        "{\"op\":\"replace\",\"path\":\"title\",\"value\":\"Admiral\"}");
    var shown = preview.of("chartshare", "w-1", ISA);
    assertThat(shown.hasAccount()).isTrue();
    assertThat(shown.lines())
        .extracting(
            MappingPreview.MappedLine::what,
            MappingPreview.MappedLine::value,
            MappingPreview.MappedLine::problem)
        .containsExactly(
            tuple("account name", "kerrowu", ""),
            tuple("displayName", "Una Kerrow", ""),
            tuple("title", "Deck", ""));
    var owner =
        new Actor(
            "rhona",
            "Rhona Vane",
            null,
            List.of(environment.duties.read("application-owner:chartshare", null, null)));
    assertThat(preview.of("chartshare", "W-1", owner).lines()).hasSize(3);
    assertThatThrownBy(() -> preview.of("quaybook", "W-1", owner)).isInstanceOf(Refused.class);
    environment.load(UNA, BO, "W-9,Ilo,Vane,Deck,Westholm,,2028-03-05,,,");
    assertThatThrownBy(() -> preview.of("chartshare", "W-9", owner))
        .as("of whom the owner has no account they know nothing")
        .hasMessageContaining("nobody");
    assertThat(preview.of("chartshare", "W-9", ISA).lines().getFirst().value()).isEqualTo("vanei");
    var nobody = new Actor("x", "X", null, List.of(Assignment.of(Duty.PEOPLE_DESK)));
    assertThatThrownBy(() -> preview.of("chartshare", "W-1", nobody)).isInstanceOf(Refused.class);
  }
}
