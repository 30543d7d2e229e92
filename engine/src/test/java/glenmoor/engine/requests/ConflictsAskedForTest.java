package glenmoor.engine.requests;

import static glenmoor.engine.TestEnvironment.ISA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.core.authorization.Scope;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.requests.ApprovalService.Decision;
import glenmoor.engine.requests.RequestService.NewLine;
import glenmoor.engine.requests.RequestViews.LineShown;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What one person must not hold together is seen before it is given, and allowed on terms. */
class ConflictsAskedForTest extends EngineTest {
  private static final String RULES =
      """
      conflict-rule: draw-and-chart
      name: Draw and chart
      risk: Whoever draws a slip and charts the water could hide a rock.
      exempt: 20 days
      sides:
      - chartshare/drawings
      - [chartshare/westholm]
      ---
      package: drawer
      entitlements: [chartshare/drawings]
      ---
      route: manager
      stages: [{ask: line-manager}]
      ---
      offer: drawer
      package: drawer
      asked-by: [person, manager]
      route: manager
      term: up to 90 days
      reason: optional
      """;

  private static final Actor TAM = new Actor("tam", "Tam", "W-10", List.of());
  private static final Actor MATE = new Actor("mate", "Mate", "W-11", List.of());
  private static final Actor OWNER =
      new Actor(
          "owner",
          "Owner",
          "W-12",
          List.of(
              new Assignment(
                  Duty.CONFLICT_OWNER, Scope.conflictRule("draw-and-chart"), null, null)));

  private RequestService requests;
  private ApprovalService approvals;
  private RequestViews views;

  @BeforeEach
  void somebody_at_westholm_who_would_draw_as_well() {
    environment.define(RULES, false);
    environment.load(
        "W-10,Tam,Briain,Deck,Westholm,W-11,2020-01-01,,,",
        "W-11,Mate,Halcro,Deck,Tarn Point,W-12,2020-01-01,,,",
        "W-12,Owner,Sow,Bridge,Tarn Point,,2020-01-01,,,");
    environment.sent();
    environment.signIns.put(
        "owner", "", "W-12", "a long enough password", true, OWNER.duties(), ISA);
    requests = environment.get(RequestService.class);
    approvals = environment.get(ApprovalService.class);
    views = environment.get(RequestViews.class);
  }

  private static NewLine drawer() {
    return new NewLine("drawer", "", "", null, null, Map.of(), "", null);
  }

  private LineShown line(long request) {
    return views.show(request, OWNER).lines().getFirst();
  }

  private static Decision approve(String reason, String control, LocalDate until) {
    return new Decision("approve", reason, null, "", control, until, "");
  }

  @Test
  void it_is_seen_before_it_is_asked_with_who_would_have_to_allow_it() {
    var would = requests.preview(List.of(drawer()), TAM).getFirst();
    assertThat(would.conflicts()).extracting(Conflicting::name).containsExactly("Draw and chart");
    assertThat(would.stages()).hasSize(2);
    assertThat(would.stages().get(1).who()).extracting(Who::worker).containsExactly("W-12");
  }

  @Test
  void it_is_allowed_on_terms_and_ends_with_them() {
    var request = requests.submit(List.of(drawer()), "", TAM);
    var line = views.show(request, TAM).lines().getFirst().id();
    approvals.decide(line, approve("", "", null), MATE);
    assertThat(line(request).state()).isEqualTo("open");
    assertThat(line(request).conflicts()).allMatch(Conflicting::needsTerms);
    assertThatThrownBy(
            () -> approvals.decide(line, approve("it is for the survey", "", null), OWNER))
        .hasMessageContaining("Draw and chart");
    assertThatThrownBy(() ->
            approvals.decide(
                line,
                approve("for the survey", "the mate looks at each", LocalDate.of(2027, 6, 1)),
                OWNER))
        .hasMessageContaining("at the latest");
    approvals.decide(
        line,
        approve("for the survey", "the mate looks at each", LocalDate.of(2027, 3, 14)),
        OWNER);
    environment.agenda.sweep();
    environment.sent();
    assertThat(environment.groups("W-10")).contains("Slip drawings", "Westholm");
    assertThat(environment.happened("person:W-10")).contains("exempted");
    environment.at("2027-03-15T06:00:00Z");
    assertThat(environment.groups("W-10")).doesNotContain("Slip drawings");
  }

  @Test
  void a_conflict_that_comes_up_while_it_waits_is_asked_about_before_it_is_given() {
    environment.load(
        "W-10,Tam,Briain,Deck,Tarn Point,W-11,2020-01-01,,,",
        "W-11,Mate,Halcro,Deck,Tarn Point,W-12,2020-01-01,,,",
        "W-12,Owner,Sow,Bridge,Tarn Point,,2020-01-01,,,");
    environment.sent();
    var request = requests.submit(List.of(drawer()), "", TAM);
    assertThat(line(request, TAM).conflicts()).isEmpty();
    environment.load(
        "W-10,Tam,Briain,Deck,Westholm,W-11,2020-01-01,,,",
        "W-11,Mate,Halcro,Deck,Tarn Point,W-12,2020-01-01,,,",
        "W-12,Owner,Sow,Bridge,Tarn Point,,2020-01-01,,,");
    environment.sent();
    approvals.decide(line(request, TAM).id(), approve("", "", null), MATE);
    assertThat(line(request, TAM).state()).isEqualTo("open");
    assertThat(line(request, TAM).stages()).hasSize(2);
    assertThat(environment.number("select count(*) from access_grant where basis = 'request'"))
        .isZero();
    approvals.decide(
        line(request, TAM).id(), new Decision("decline", "no", null, "", "", null, ""), OWNER);
    assertThat(line(request, TAM).state()).isEqualTo("declined");
  }

  private LineShown line(long request, Actor actor) {
    return views.show(request, actor).lines().getFirst();
  }

  @Test
  void an_administrator_in_anothers_place_needs_terms_too() {
    var request = requests.submit(List.of(drawer()), "", TAM);
    var line = line(request, TAM).id();
    approvals.decide(line, approve("", "", null), MATE);
    assertThatThrownBy(() ->
            approvals.decide(
                line, new Decision("approve", "quick", null, "", "", null, "anybody"), ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("control");
  }

  @Test
  void what_was_given_with_an_exemption_is_not_extended_beyond_it_without_being_asked_about() {
    var request = requests.submit(List.of(drawer()), "", TAM);
    var line = line(request, TAM).id();
    approvals.decide(line, approve("", "", null), MATE);
    approvals.decide(
        line, approve("a survey", "the mate looks at each", LocalDate.of(2027, 3, 14)), OWNER);
    environment.agenda.sweep();
    environment.sent();
    var grant = environment.get(GrantService.class).of("W-10", TAM).getFirst();
    var longer =
        new NewLine(
            "drawer", "", "extend", null, LocalDate.of(2027, 5, 1), Map.of(), "", grant.id());
    assertThat(requests.preview(List.of(longer), TAM).getFirst().conflicts())
        .extracting(Conflicting::name)
        .containsExactly("Draw and chart");
    var extended = requests.submit(List.of(longer), "", TAM);
    approvals.decide(line(extended, TAM).id(), approve("", "", null), MATE);
    assertThat(line(extended, TAM).state()).as("its owner is asked").isEqualTo("open");
    approvals.decide(
        line(extended, TAM).id(),
        approve("the survey goes on", "the mate looks at each", LocalDate.of(2027, 3, 20)),
        OWNER);
    environment.at("2027-03-18T06:00:00Z");
    assertThat(environment.groups("W-10")).contains("Slip drawings", "Westholm");
    environment.at("2027-03-21T06:00:00Z");
    assertThat(environment.groups("W-10"))
        .as("it ends with its exemption")
        .doesNotContain("Slip drawings");
  }
}
