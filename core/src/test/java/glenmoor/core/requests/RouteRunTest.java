package glenmoor.core.requests;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.people.PersonId;
import glenmoor.core.requests.Deciders.Administrators;
import glenmoor.core.requests.Deciders.LineManager;
import glenmoor.core.requests.Deciders.OfTeam;
import glenmoor.core.requests.Deciders.Stewards;
import glenmoor.core.requests.Happening.Asked;
import glenmoor.core.requests.Happening.LineEnded;
import glenmoor.core.requests.LineState.Ended;
import glenmoor.core.requests.LineState.Outcome;
import glenmoor.core.requests.Organisation.Member;
import glenmoor.core.requests.RouteRun.Moved;
import glenmoor.core.requests.StageRule.Agree;
import glenmoor.core.requests.StageRule.Clock;
import glenmoor.core.requests.StageRule.ReasonOn;
import glenmoor.core.requests.StageState.Settled;
import glenmoor.core.requests.StageState.Verdict;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

/** What becomes of a line that waits for people to agree. */
class RouteRunTest {
  private static final Instant NOW = Instant.parse("2027-03-01T08:00:00Z");
  private static final PersonId DECKHAND = new PersonId(1);
  private static final PersonId MATE = new PersonId(2);
  private static final PersonId CAPTAIN = new PersonId(3);
  private static final PersonId STEWARD = new PersonId(4);
  private static final PersonId OTHER_STEWARD = new PersonId(5);
  private static final PersonId ISA = new PersonId(6);

  private final Map<PersonId, Member> members = new HashMap<>();
  private final Map<Deciders, List<PersonId>> holders = new HashMap<>();
  private PersonId asker = DECKHAND;
  private Instant now = NOW;

  RouteRunTest() {
    here(DECKHAND, MATE);
    here(MATE, CAPTAIN);
    here(CAPTAIN, null);
    here(STEWARD, CAPTAIN);
    here(OTHER_STEWARD, CAPTAIN);
    here(ISA, null);
    holders.put(new LineManager(), List.of(MATE));
    holders.put(new Stewards(), List.of(STEWARD, OTHER_STEWARD));
    holders.put(new Administrators(), List.of(ISA));
  }

  private void here(PersonId person, PersonId manager) {
    members.put(person, new Member(true, manager, false, null));
  }

  private void left(PersonId person) {
    members.put(person, new Member(false, members.get(person).manager(), false, null));
  }

  private void away(PersonId person, PersonId deputy) {
    members.put(person, new Member(true, members.get(person).manager(), true, deputy));
  }

  private Situation situation() {
    return new Situation(
        new Organisation(DECKHAND, asker, Map.copyOf(holders), Map.copyOf(members)), Map.of(), now);
  }

  private static StageRule stage(Agree agree, Deciders... ask) {
    return stage(agree, false, List.of(), List.of(), ask);
  }

  private static StageRule stage(
      Agree agree, boolean beside, List<Deciders> standby, List<Deciders> onTo, Deciders... ask) {
    return new StageRule(
        Map.of(),
        List.of(ask),
        List.of(),
        agree,
        new Clock(
            List.of(Duration.ofDays(3)),
            standby.isEmpty() ? Optional.empty() : Optional.of(Duration.ofDays(5)),
            Duration.ofDays(7)),
        standby,
        onTo,
        ReasonOn.DECLINE,
        Optional.empty(),
        beside,
        false);
  }

  private RouteRun begun(StageRule... rules) {
    return RouteRun.of(List.of(rules)).after(new Move.Begin(), situation()).run();
  }

  private Moved approve(RouteRun run, PersonId by) {
    return run.after(new Move.Approve(Optional.of(by), ""), situation());
  }

  private Moved look(RouteRun run, int days) {
    now = NOW.plus(Duration.ofDays(days));
    return run.after(new Move.Look(), situation());
  }

  private static Outcome outcome(RouteRun run) {
    return ((Ended) run.state()).outcome();
  }

  private static Verdict verdict(RouteRun run, int stage) {
    return ((Settled) run.stages().get(stage).state()).verdict();
  }

  private static List<PersonId> asked(RouteRun run, int stage) {
    return run.stages().get(stage).approvers().stream().map(Approver::person).toList();
  }

  @Test
  void a_manager_and_then_a_steward_agree() {
    var run = begun(stage(Agree.ANY, new LineManager()), stage(Agree.ANY, new Stewards()));
    assertThat(run.asks(MATE)).isTrue();
    assertThat(run.asks(STEWARD)).isFalse();
    var second = approve(run, MATE);
    assertThat(second.happened())
        .contains(new Asked(1, Set.of(STEWARD, OTHER_STEWARD), Happening.Why.OPENED));
    assertThat(outcome(approve(second.run(), OTHER_STEWARD).run())).isEqualTo(Outcome.APPROVED);
  }

  @Test
  void nobody_agrees_to_their_own_ask_nor_to_what_they_get() {
    holders.put(new Stewards(), List.of(DECKHAND, STEWARD));
    var run = begun(stage(Agree.ANY, new Stewards()));
    assertThat(asked(run, 0)).containsExactly(STEWARD);
    assertThatThrownBy(() -> approve(run, DECKHAND))
        .isInstanceOf(Refusal.class)
        .hasMessageContaining("not asked");
    // Asked for somebody else, it is the asker who has no say.
    asker = STEWARD;
    assertThat(asked(begun(stage(Agree.ANY, new Stewards())), 0)).containsExactly(ISA);
  }

  @Test
  void a_manager_who_asks_is_not_asked_as_manager_but_not_heard_as_steward_either() {
    asker = MATE;
    holders.put(new Stewards(), List.of(MATE, STEWARD));
    var run = begun(stage(Agree.ANY, new LineManager()), stage(Agree.ANY, new Stewards()));
    assertThat(verdict(run, 0)).isEqualTo(Verdict.MET);
    assertThat(asked(run, 1)).containsExactly(STEWARD);
  }

  @Test
  void whoever_has_left_is_replaced_by_their_manager_also_where_a_stage_is_open() {
    var run = begun(stage(Agree.ANY, new LineManager()));
    left(MATE);
    var looked = look(run, 1);
    assertThat(looked.happened())
        .containsExactly(new Asked(0, Set.of(CAPTAIN), Happening.Why.REPLACED));
    assertThatThrownBy(() -> approve(looked.run(), MATE)).isInstanceOf(Refusal.class);
    // Even where nobody looked in between.
    assertThatThrownBy(() -> approve(run, MATE)).isInstanceOf(Refusal.class);
    assertThat(outcome(approve(run, CAPTAIN).run())).isEqualTo(Outcome.APPROVED);
  }

  @Test
  void a_deputy_acts_for_whoever_is_away_but_not_for_their_own_ask() {
    away(MATE, STEWARD);
    assertThat(asked(begun(stage(Agree.ANY, new LineManager())), 0)).containsExactly(STEWARD);
    away(MATE, DECKHAND);
    assertThat(asked(begun(stage(Agree.ANY, new LineManager())), 0)).containsExactly(CAPTAIN);
    away(MATE, CAPTAIN);
    away(CAPTAIN, MATE);
    assertThat(asked(begun(stage(Agree.ANY, new LineManager())), 0)).containsExactly(ISA);
  }

  @Test
  void whoever_agreed_once_is_not_asked_twice() {
    holders.put(new Stewards(), List.of(MATE, STEWARD));
    var run = begun(stage(Agree.ANY, new LineManager()), stage(Agree.ANY, new Stewards()));
    assertThat(outcome(approve(run, MATE).run())).isEqualTo(Outcome.APPROVED);
    var all = begun(stage(Agree.ANY, new LineManager()), stage(Agree.ALL, new Stewards()));
    var second = approve(all, MATE).run();
    assertThat(second.asks(MATE)).isFalse();
    assertThat(outcome(approve(second, STEWARD).run())).isEqualTo(Outcome.APPROVED);
  }

  @Test
  void all_must_agree_and_one_no_is_enough() {
    var run = begun(stage(Agree.ALL, new Stewards()));
    var one = approve(run, STEWARD).run();
    assertThat(one.open()).isTrue();
    assertThatThrownBy(() -> approve(one, STEWARD)).hasMessageContaining("agreed already");
    var declined =
        one.after(new Move.Decline(Optional.of(OTHER_STEWARD), "no berth"), situation()).run();
    assertThat(declined.state()).isEqualTo(new Ended(Outcome.DECLINED, now, "no berth"));
  }

  @Test
  void where_all_must_agree_one_who_loses_the_duty_is_waited_for_no_more() {
    var one = approve(begun(stage(Agree.ALL, new Stewards())), STEWARD).run();
    holders.put(new Stewards(), List.of(STEWARD));
    assertThat(outcome(look(one, 1).run())).isEqualTo(Outcome.APPROVED);
  }

  @Test
  void a_no_needs_a_reason() {
    var run = begun(stage(Agree.ANY, new LineManager()));
    assertThatThrownBy(() -> run.after(new Move.Decline(Optional.of(MATE), " "), situation()))
        .hasMessageContaining("why");
  }

  @Test
  void a_stage_reminds_widens_and_lapses_at_its_times() {
    var run = begun(stage(Agree.ANY, false, List.of(new Stewards()), List.of(), new LineManager()));
    assertThat(run.due()).contains(NOW.plus(Duration.ofDays(3)));
    var nudged = look(run, 3);
    assertThat(nudged.happened()).containsExactly(new Happening.Nudged(0, Set.of(MATE)));
    assertThat(nudged.run().due()).contains(NOW.plus(Duration.ofDays(5)));
    var wider = look(nudged.run(), 5);
    assertThat(asked(wider.run(), 0)).containsExactly(MATE, STEWARD, OTHER_STEWARD);
    assertThat(outcome(approve(wider.run(), STEWARD).run())).isEqualTo(Outcome.APPROVED);
    assertThat(outcome(look(wider.run(), 7).run())).isEqualTo(Outcome.LAPSED);
  }

  @Test
  void what_lapses_may_go_on_to_others_once() {
    var run = begun(stage(Agree.ANY, false, List.of(), List.of(new Stewards()), new LineManager()));
    var on = look(run, 7).run();
    assertThat(on.asks(STEWARD)).isTrue();
    assertThat(on.asks(MATE)).isFalse();
    assertThat(on.due()).contains(NOW.plus(Duration.ofDays(10)));
    assertThat(outcome(look(on, 14).run())).isEqualTo(Outcome.LAPSED);
  }

  @Test
  void the_clock_of_what_is_held_stands_still() {
    var run = begun(stage(Agree.ANY, new LineManager()));
    now = NOW.plus(Duration.ofDays(1));
    var held =
        run.after(new Move.Hold(MATE, NOW.plus(Duration.ofDays(9)), "after the refit"), situation())
            .run();
    assertThat(look(held, 8).run().open()).isTrue();
    var open = look(held, 9);
    assertThat(open.run().due()).contains(NOW.plus(Duration.ofDays(11)));
    assertThat(look(open.run(), 14).run().open()).isTrue();
    assertThat(outcome(look(open.run(), 15).run())).isEqualTo(Outcome.LAPSED);
  }

  @Test
  void nobody_holds_a_line_for_ever() {
    var run = begun(stage(Agree.ANY, new LineManager()));
    assertThatThrownBy(
            () -> run.after(new Move.Hold(MATE, NOW.plus(Duration.ofDays(31)), ""), situation()))
        .isInstanceOf(Refusal.class);
  }

  @Test
  void what_is_passed_on_is_decided_there_and_not_where_it_came_from() {
    var run = begun(stage(Agree.ANY, new LineManager()));
    var passed = run.after(new Move.PassOn(MATE, STEWARD, "knows it better"), situation()).run();
    assertThatThrownBy(() -> approve(passed, MATE)).isInstanceOf(Refusal.class);
    assertThatThrownBy(() -> run.after(new Move.PassOn(MATE, DECKHAND, "your own"), situation()))
        .isInstanceOf(Refusal.class);
    // Whoever it was passed on to has left meanwhile.
    left(STEWARD);
    assertThat(asked(look(passed, 1).run(), 0)).containsExactly(CAPTAIN);
  }

  @Test
  void stages_side_by_side_are_both_asked_and_both_needed() {
    var run =
        begun(
            stage(Agree.ANY, new LineManager()),
            stage(Agree.ANY, true, List.of(), List.of(), new Stewards()));
    assertThat(run.asks(MATE)).isTrue();
    assertThat(run.asks(STEWARD)).isTrue();
    var one = approve(run, STEWARD).run();
    assertThat(one.open()).isTrue();
    assertThat(outcome(approve(one, MATE).run())).isEqualTo(Outcome.APPROVED);
  }

  @Test
  void a_stage_with_nobody_waits_for_an_administrator() {
    holders.clear();
    var run = begun(stage(Agree.ANY, new OfTeam("gone")));
    assertThat(run.open()).isTrue();
    assertThat(asked(run, 0)).isEmpty();
    assertThat(
            outcome(
                run.after(new Move.Approve(Optional.empty(), "nobody left"), situation()).run()))
        .isEqualTo(Outcome.APPROVED);
  }

  @Test
  void what_is_over_stays_over() {
    var run = begun(stage(Agree.ANY, new LineManager()));
    var over = approve(run, MATE).run();
    assertThatThrownBy(() -> approve(over, MATE))
        .isInstanceOfSatisfying(
            Refusal.class, refused -> assertThat(refused.kind()).isEqualTo(Refusal.Kind.SETTLED));
  }

  /** Any route, any order of decisions, moves of the clock, leavers and changes of duty. */
  @Test
  void a_line_ends_once_never_approved_without_every_stage_met_never_open_without_somebody() {
    IntStream.range(0, 4_000).forEach(this::chance);
  }

  private void chance(int seed) {
    var random = new Random(seed);
    var deciders =
        List.of(new LineManager(), new Stewards(), new OfTeam("yard"), new Administrators());
    now = NOW;
    members.clear();
    var people = IntStream.rangeClosed(1, 8).mapToObj(PersonId::new).toList();
    people.forEach(each -> here(each, each.value() == 1 ? null : some(people, random)));
    members.put(ISA, new Member(true, null, false, null));
    asker = some(people, random);
    deciders.forEach(each -> holders.put(each, few(people, random)));
    holders.put(new Administrators(), List.of(ISA));
    var rules = new ArrayList<StageRule>();
    for (var i = 0; i < 1 + random.nextInt(4); i++) {
      rules.add(
          stage(
              random.nextBoolean() ? Agree.ANY : Agree.ALL,
              i > 0 && random.nextInt(3) == 0,
              random.nextBoolean() ? List.of(some(deciders, random)) : List.of(),
              random.nextBoolean() ? List.of(some(deciders, random)) : List.of(),
              few(deciders, random).toArray(Deciders[]::new)));
    }
    var begun = RouteRun.of(rules).after(new Move.Begin(), situation());
    var run = begun.run();
    var ends = ends(begun);
    for (var step = 0; step < 60 && run.open(); step++) {
      world(people, deciders, random);
      var before = run;
      try {
        var moved = run.after(move(people, random), situation());
        run = moved.run();
        ends += ends(moved);
        check(seed, run);
      } catch (Refusal refused) {
        assertThat(run).isSameAs(before);
      }
    }
    // However it stands, time alone brings it to an end.
    for (var i = 0; i < 40 && run.open(); i++) {
      now = run.due().orElseThrow();
      var moved = run.after(new Move.Look(), situation());
      ends += ends(moved);
      run = moved.run();
    }
    assertThat(run.open()).as("seed %d", seed).isFalse();
    assertThat(ends).as("seed %d", seed).isEqualTo(1);
  }

  private static int ends(Moved moved) {
    return (int) moved.happened().stream().filter(LineEnded.class::isInstance).count();
  }

  private static <T> T some(List<T> all, Random random) {
    return all.get(random.nextInt(all.size()));
  }

  private static <T> List<T> few(List<T> all, Random random) {
    return IntStream.range(0, 1 + random.nextInt(2))
        .mapToObj(each -> some(all, random))
        .distinct()
        .toList();
  }

  private void world(List<PersonId> people, List<? extends Deciders> deciders, Random random) {
    var person = some(people, random);
    switch (random.nextInt(8)) {
      case 0 -> now = now.plus(Duration.ofHours(random.nextInt(72)));
      case 1 -> {
        if (!person.equals(ISA)) {
          left(person);
        }
      }
      case 2 -> {
        if (!person.equals(ISA)) {
          away(person, some(people, random));
        }
      }
      case 3 -> here(person, some(people, random));
      case 4 -> holders.put(some(deciders, random), few(people, random));
      default -> {}
    }
    holders.put(new Administrators(), List.of(ISA));
    members.put(ISA, new Member(true, null, false, null));
  }

  private Move move(List<PersonId> people, Random random) {
    var by = Optional.of(some(people, random));
    return switch (random.nextInt(12)) {
      case 0, 1, 2, 3 -> new Move.Approve(by, "");
      case 4 -> new Move.Decline(by, "no");
      case 5 -> new Move.Hold(by.get(), now.plus(Duration.ofDays(1 + random.nextInt(20))), "");
      case 6 -> new Move.GoOn(by.get());
      case 7, 8 -> new Move.PassOn(by.get(), some(people, random), "");
      default -> new Move.Look();
    };
  }

  private void check(int seed, RouteRun run) {
    var organisation = situation().organisation();
    for (var stage : run.stages()) {
      stage.approvers().stream()
          .filter(each -> stage.waits() && !each.agreed())
          .forEach(each -> {
            assertThat(each.person()).as("seed %d", seed).isNotIn(DECKHAND, asker);
            assertThat(organisation.members().get(each.person()).here())
                .as("seed %d", seed)
                .isTrue();
          });
      if (stage.waits() && !ISA.equals(asker)) {
        assertThat(stage.approvers().stream().anyMatch(each -> !each.agreed()))
            .as("seed %d: somebody can act", seed)
            .isTrue();
      }
    }
    if (run.state() instanceof Ended ended && ended.outcome() == Outcome.APPROVED) {
      assertThat(run.stages())
          .as("seed %d", seed)
          .allMatch(stage ->
              stage.state() instanceof Settled settled && settled.verdict() == Verdict.MET);
    }
  }

  @Test
  void a_manager_who_asks_stands_for_those_who_could_not_act_and_for_nobody_else() {
    asker = MATE;
    // Only the manager is asked first; the stewards would be asked because nobody else could act.
    var alone =
        new StageRule(
            Map.of(),
            List.of(new LineManager()),
            List.of(new Stewards()),
            Agree.ALL,
            new Clock(List.of(), Optional.empty(), Duration.ofDays(7)),
            List.of(),
            List.of(),
            ReasonOn.DECLINE,
            Optional.empty(),
            false,
            false);
    assertThat(outcome(begun(alone))).isEqualTo(Outcome.APPROVED);
    // The stewards are asked in their own right, so their word is needed.
    var both = begun(stage(Agree.ALL, new LineManager(), new Stewards()));
    assertThat(both.open()).isTrue();
    assertThat(both.asks(STEWARD)).isTrue();
  }
}
