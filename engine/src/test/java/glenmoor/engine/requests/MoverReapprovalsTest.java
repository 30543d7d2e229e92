package glenmoor.engine.requests;

import static glenmoor.engine.TestEnvironment.ISA;
import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.authorization.Actor;
import glenmoor.engine.EngineTest;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.lifecycle.CutOffService;
import glenmoor.engine.requests.ApprovalService.Decision;
import glenmoor.engine.requests.GrantService.Held;
import glenmoor.engine.requests.RequestService.NewLine;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What somebody was given before they moved is approved again, or ends, whatever else happens. */
class MoverReapprovalsTest extends EngineTest {
  private static final String OFFER =
      """
      portfolio: deck
      entitlements: [chartshare/drawings]
      ---
      package: night-watch
      name: Night watch
      portfolio: deck
      entitlements: [chartshare/drawings]
      ---
      route: manager
      stages:
      - ask: line-manager
        lapse: 5 days
      ---
      offer: watch
      package: night-watch
      portfolio: deck
      for: person.location == "Tarn Point"
      asked-by: [person, manager]
      route: manager
      term: up to 60 days
      reason: optional
      on-move: ask
      asked-anew: 10 days
      """;

  private static final Actor TAM = new Actor("tam", "tam", "W-10", List.of());
  private static final Actor MATE = new Actor("mate", "mate", "W-11", List.of());
  private static final String TAMS = "W-10,Tam,Briain,Deck,Tarn Point,W-11,2020-01-01,,,";
  private static final String MOVED = TAMS.replace("Tarn Point", "Hallow Quay");

  @BeforeEach
  void a_crew_and_what_they_may_ask_for() {
    environment.define(
        TestEnvironment.skerryLine().replace("where: 'true'", "where: 'false'"), true);
    environment.define(OFFER, false);
    load(TAMS);
  }

  private void load(String tam) {
    var work = environment.load(tam, "W-11,Mate,Halcro,Deck,Tarn Point,,2020-01-01,,,");
    assertThat(work.state()).as(work.sentence()).isEqualTo("done");
    turn();
  }

  private void turn() {
    environment.turns(environment.get(LinesDue.class), environment.get(MoverReapprovals.class));
  }

  private void at(String day) {
    environment.at(day + "T06:00:00Z");
    turn();
  }

  private long ask(String kind, @Nullable Long grant, @Nullable LocalDate start) {
    var line = new NewLine("watch", "W-10", kind, start, null, Map.of(), "it is needed", grant);
    var request = environment.get(RequestService.class).submit(List.of(line), "", TAM);
    return environment.get(RequestViews.class).show(request, ISA).lines().getFirst().id();
  }

  private void decide(long line, String word) {
    environment
        .get(ApprovalService.class)
        .decide(line, new Decision(word, "as it is", null, "", "", null, ""), MATE);
    turn();
  }

  private Held given(@Nullable LocalDate start) {
    decide(ask("", null, start), "approve");
    return held().getFirst();
  }

  private List<Held> held() {
    return environment.get(GrantService.class).of("W-10", TAM);
  }

  private long waiting() {
    return environment.sql.queryForObject(
        "select id from request_line where state = 'open'", Long.class);
  }

  private List<String> reapprovals() {
    return environment.sql.queryForList("select state from reapproval order by id", String.class);
  }

  private Instant end() {
    return held().getFirst().endsAt();
  }

  @Test
  void outside_the_audience_it_can_be_approved_and_lasts_as_long_as_it_would_have() {
    var before = given(null).endsAt();
    load(MOVED);
    assertThat(reapprovals()).containsExactly("asked");
    assertThat(end()).as("ten days").isBetween("2027-03-11T06:00:00Z", "2027-03-11T06:05:00Z");
    decide(waiting(), "approve");
    assertThat(end()).isEqualTo(before);
    assertThat(reapprovals()).containsExactly("kept");
  }

  @Test
  void declined_lapsed_or_withdrawn_it_ends_at_once() {
    given(null);
    load(MOVED);
    decide(waiting(), "decline");
    assertThat(environment.groups("W-10")).isEmpty();
    assertThat(reapprovals()).containsExactly("ended");
    load(TAMS);
    given(null);
    load(MOVED);
    at("2027-03-07");
    assertThat(environment.groups("W-10")).as("lapsed").isEmpty();
    assertThat(reapprovals()).containsExactly("ended", "ended");
  }

  @Test
  void an_open_request_for_the_same_package_does_not_escape_it() {
    var first = given(null);
    var longer = ask("extend", first.id(), null);
    load(MOVED);
    assertThat(reapprovals()).containsExactly("due");
    assertThat(end()).as("kept for the days of the offer").isBefore("2027-03-12T00:00:00Z");
    var request =
        environment.sql.queryForObject(
            "select request_id from request_line where id = ?", Long.class, longer);
    environment.get(RequestService.class).withdraw(request, "not needed", TAM);
    turn();
    assertThat(reapprovals()).containsExactly("asked");
    decide(waiting(), "approve");
    assertThat(end()).isEqualTo(first.endsAt());
  }

  @Test
  void what_was_agreed_to_before_the_move_and_begins_after_it_is_asked_for() {
    given(LocalDate.parse("2027-03-05"));
    load(MOVED);
    assertThat(reapprovals()).containsExactly("asked");
    decide(waiting(), "decline");
    at("2027-03-06");
    assertThat(environment.groups("W-10")).isEmpty();
  }

  @Test
  void whoever_moves_again_is_asked_for_again_and_keeps_it_no_longer() {
    var before = given(null).endsAt();
    load(MOVED);
    var kept = end();
    at("2027-03-04");
    load(MOVED.replace("Deck", "Bridge"));
    assertThat(reapprovals()).containsExactly("replaced", "asked");
    assertThat(end()).isEqualTo(kept);
    decide(waiting(), "approve");
    assertThat(end()).isEqualTo(before);
  }

  @Test
  void a_cut_off_drops_nothing_and_whoever_comes_back_can_be_approved() {
    var before = given(null).endsAt();
    load(MOVED);
    var cutOffs = environment.get(CutOffService.class);
    cutOffs.cutOff("W-10", "asked for by the harbour master", ISA);
    turn();
    assertThat(environment.user("W-10").path("active").asBoolean()).isFalse();
    at("2027-03-03");
    cutOffs.bringBack("W-10", "it was somebody else", ISA);
    turn();
    assertThat(reapprovals()).containsExactly("asked");
    decide(waiting(), "approve");
    assertThat(end()).isEqualTo(before);
    assertThat(environment.groups("W-10")).containsExactly("Slip drawings");
  }

  @Test
  void a_return_from_leave_into_another_department_is_asked_for_and_so_is_a_move_while_cut_off() {
    given(null);
    load(TAMS.replace("2020-01-01,,,", "2020-01-01,,2027-02-28,"));
    load(MOVED);
    assertThat(reapprovals()).containsExactly("asked");
    decide(waiting(), "approve");
    var cutOffs = environment.get(CutOffService.class);
    cutOffs.cutOff("W-10", "asked for by the harbour master", ISA);
    load(MOVED.replace("Deck", "Bridge"));
    assertThat(reapprovals()).as("not while they have nothing").containsExactly("kept");
    cutOffs.bringBack("W-10", "it was somebody else", ISA);
    turn();
    assertThat(reapprovals()).containsExactly("kept", "asked");
  }

  @Test
  void whoever_leaves_is_asked_for_by_nobody_any_more() {
    given(null);
    load(MOVED);
    load(MOVED.replace("2020-01-01,,,", "2020-01-01,2027-02-28,,"));
    at("2027-03-03");
    assertThat(reapprovals()).allMatch(each -> !each.equals("asked") && !each.equals("due"));
    assertThat(environment.number("select count(*) from request_line where state = 'open'"))
        .isZero();
  }
}
