package glenmoor.engine.conflicts;

import static glenmoor.engine.TestEnvironment.ISA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.tuple;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.core.authorization.Scope;
import glenmoor.core.conflicts.ConflictRule;
import glenmoor.core.conflicts.ConflictRuleKind;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.access.Revoking;
import glenmoor.engine.conflicts.ConflictService.Terms;
import glenmoor.engine.conflicts.ConflictViews.ConflictListed;
import glenmoor.engine.conflicts.ConflictViews.Part;
import glenmoor.store.conflicts.ConflictMapper;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Conflicts that are there already, however they came about. */
class ConflictsFoundTest extends EngineTest {
  private static final String RULES =
      """
      package: draughts
      name: Draughts
      tags: [drawing]
      entitlements: [chartshare/drawings]
      ---
      conflict-rule: shelf-and-draw
      name: Shelf and draw
      risk: Somebody could shelve what they drew.
      sides:
      - chartshare/westholm
      - tag drawing
      exempt: 14 days
      controls: [The captain looks at it]
      """;

  private static final Actor UNA = new Actor("una", "Una", "W-1", List.of());
  private static final Actor BO = new Actor("bo", "Bo", "W-2", List.of());
  private static final Actor OWNER = owner("owner", "W-9", "shelf-and-draw");
  private static final Actor OTHER_OWNER = owner("other", "W-8", "another");

  private static Actor owner(String login, String worker, String rule) {
    return new Actor(
        login,
        login,
        worker,
        List.of(new Assignment(Duty.CONFLICT_OWNER, Scope.conflictRule(rule), null, null)));
  }

  private ConflictViews views;
  private ConflictService conflicts;
  private ConflictsFound found;

  @BeforeEach
  void una_holds_one_side_by_rule() {
    environment.define(TestEnvironment.skerryLine(), true);
    environment.define(RULES, false);
    environment.load(
        TestEnvironment.UNA, TestEnvironment.BO, "W-3,Cal,Ness,Deck,Westholm,W-2,2021-01-01,,,");
    environment.sent();
    views = environment.get(ConflictViews.class);
    conflicts = environment.get(ConflictService.class);
    found = environment.get(ConflictsFound.class);
  }

  /** Gives somebody a package as a playbook would, and looks. */
  private void give(long id, String worker, String rolePackage) {
    environment.sql.update(
        "insert into access_grant (id, person_id, target_kind, target_key, basis, basis_key, decided_at, starts_at, ends_at, end_reason) select ?, id, 'package', ?, 'direct', ?, '2027-02-01 06:00:00', '2027-02-01 06:00:00', null, '' from person where worker_number = ?",
        id,
        rolePackage,
        "direct#" + id,
        worker);
    environment.sql.update(
        "update person set due_at = '2027-03-01 06:00:00' where worker_number = ?", worker);
    environment.agenda.sweep();
    environment.sent();
    found.carryOut();
  }

  private List<ConflictListed> all(Actor actor) {
    return views.list(null, null, null, null, Long.MAX_VALUE, 100, actor);
  }

  @Test
  void a_conflict_is_found_as_soon_as_both_sides_are_held_and_is_over_once_one_is_gone() {
    found.carryOut();
    assertThat(all(ISA)).isEmpty();
    give(1, "W-1", "draughts");
    assertThat(all(ISA))
        .singleElement()
        .satisfies(each -> {
          assertThat(each.worker()).isEqualTo("W-1");
          assertThat(each.state()).isEqualTo("open");
        });
    var before = all(ISA).getFirst().id();
    found.carryOut();
    found.lookNow();
    assertThat(all(ISA).getFirst().id()).as("found once").isEqualTo(before);
    var shown = views.show(before, OWNER);
    assertThat(shown.parts())
        .extracting(Part::side, Part::entitlement)
        .containsExactly(tuple(1, "chartshare/westholm"), tuple(2, "chartshare/drawings"));
    assertThat(shown.parts().getFirst().giving().getFirst().byRule()).isTrue();
    assertThat(conflicts.wouldEnd(before, "chartshare/drawings", OWNER).grants())
        .containsExactly("Draughts");
    conflicts.end(before, "chartshare/drawings", "she shelves", OWNER);
    environment.agenda.sweep();
    environment.sent();
    found.carryOut();
    assertThat(all(ISA)).isEmpty();
    assertThat(environment.groups("W-1")).doesNotContain("Slip drawings");
  }

  @Test
  void a_side_that_a_rule_gives_is_carved_out_and_the_rule_does_not_give_it_back() {
    give(1, "W-1", "draughts");
    var id = all(ISA).getFirst().id();
    var would = conflicts.wouldEnd(id, "chartshare/westholm", OWNER);
    assertThat(would.grants()).isEmpty();
    assertThat(would.carved()).containsExactly("At Westholm");
    conflicts.end(id, "chartshare/westholm", "she draws", OWNER);
    environment.agenda.sweep();
    environment.sent();
    found.carryOut();
    assertThat(all(ISA)).isEmpty();
    assertThat(environment.groups("W-1")).doesNotContain("Westholm").contains("Slip drawings");
    // Away and back: the rule begins anew, and still does not give it.
    environment.load("W-1,Una,Kerrow,Deck,Hallow Quay,,2020-01-01,,,", TestEnvironment.BO);
    environment.load(TestEnvironment.UNA, TestEnvironment.BO);
    environment.agenda.sweep();
    environment.sent();
    assertThat(environment.groups("W-1")).doesNotContain("Westholm");
    var carved =
        environment.sql.queryForObject(
            "select id from revocation where released_at is null", Long.class);
    environment.transactions.run(() ->
        environment
            .get(Revoking.class)
            .lift(carved, "she shelves again", "isa", environment.clock.instant()));
    environment.agenda.sweep();
    environment.sent();
    assertThat(environment.groups("W-1")).contains("Westholm");
  }

  @Test
  void who_it_concerns_sees_and_settles_it_and_nobody_else() {
    give(1, "W-3", "draughts");
    var id = all(ISA).getFirst().id();
    assertThat(all(BO)).as("his report's").hasSize(1);
    assertThat(all(UNA)).isEmpty();
    assertThat(all(OTHER_OWNER)).isEmpty();
    for (var stranger : List.of(UNA, OTHER_OWNER)) {
      assertThatThrownBy(() -> views.show(id, stranger)).isInstanceOf(Refused.class);
      assertThatThrownBy(() -> conflicts.end(id, "chartshare/drawings", "why", stranger))
          .isInstanceOf(Refused.class);
      assertThat(allowed(id, 3, stranger)).isFalse();
    }
    assertThat(allowed(id, 3, BO)).as("a manager does not allow it").isFalse();
    var herself = owner("cal", "W-3", "shelf-and-draw");
    assertThat(allowed(id, 3, herself)).as("nobody for themselves").isFalse();
    assertThat(allowed(id, 15, OWNER)).as("beyond the rule's longest").isFalse();
    assertThat(allowed(id, -1, OWNER)).isFalse();
    assertThatThrownBy(
            () -> conflicts.exempt(List.of(id), new Terms("why", " ", LocalDate.MAX), OWNER))
        .isInstanceOf(Refused.class);
    conflicts.end(id, "chartshare/drawings", "not needed", BO);
    environment.agenda.sweep();
    environment.sent();
    found.carryOut();
    assertThat(all(ISA)).isEmpty();
  }

  private boolean allowed(long id, int days, Actor actor) {
    return conflicts
        .exempt(
            List.of(id),
            new Terms(
                "the yard is short",
                "each is looked at",
                LocalDate.parse("2027-03-01").plusDays(days)),
            actor)
        .getFirst()
        .done();
  }

  @Test
  void what_is_allowed_is_open_again_when_its_time_is_over() {
    give(1, "W-1", "draughts");
    var id = all(ISA).getFirst().id();
    assertThat(allowed(id, 14, OWNER)).isTrue();
    assertThat(all(ISA).getFirst().state()).isEqualTo("exempt");
    assertThat(allowed(id, 3, OWNER)).as("it is already").isFalse();
    environment.at("2027-03-15T20:00:00Z");
    assertThat(all(ISA).getFirst().state()).isEqualTo("exempt");
    environment.at("2027-03-16T08:00:00Z");
    found.carryOut();
    assertThat(all(ISA))
        .singleElement()
        .satisfies(each -> {
          assertThat(each.id()).as("the same conflict").isEqualTo(id);
          assertThat(each.state()).isEqualTo("open");
        });
    assertThat(
            environment.number("select count(*) from ledger_entry where what = 'exemption-ended'"))
        .isOne();
  }

  @Test
  void a_rule_is_tried_before_it_counts_and_counts_from_its_day() {
    give(1, "W-1", "draughts");
    give(2, "W-3", "draughts");
    var text =
        "conflict-rule: later\nrisk: x\nfrom: 2027-04-01\nsides: [chartshare/charts, chartshare/drawings]\n";
    var tried = views.trial("later", text, ISA);
    assertThat(tried.people()).isEqualTo(3);
    assertThat(environment.number("select count(*) from conflict_found")).isZero();
    environment.define(text, false);
    found.carryOut();
    assertThat(views.list("later", null, null, null, Long.MAX_VALUE, 10, ISA)).isEmpty();
    environment.at("2027-04-01T08:00:00Z");
    found.carryOut();
    assertThat(views.list("later", null, null, null, Long.MAX_VALUE, 10, ISA)).hasSize(3);
    assertThat(views.matrix(ISA).cells())
        .filteredOn(each -> each.rule().equals("later"))
        .extracting(each -> each.group() + " " + each.open())
        .containsExactlyInAnyOrder("Deck 2", "Shipyard 1");
    // A rule that is dropped leaves none.
    environment.define(TestEnvironment.skerryLine(), true);
    found.carryOut();
    assertThat(environment.number("select count(*) from conflict where ended_at is null")).isZero();
  }

  @Test
  void wrong_rules_are_told() {
    for (var wrong :
        List.of(
            "sides: [chartshare/charts, chartshare/charts]",
            "sides: [chartshare/charts, [chartshare/drawings, chartshare/charts]]",
            "sides: [chartshare/charts, package nothing]",
            "sides: [chartshare/charts, tag nothing]",
            "sides: [chartshare/charts, chartshare/drawings]\nfrom: soon")) {
      assertThatThrownBy(() -> environment.define("conflict-rule: wrong\nrisk: x\n" + wrong, false))
          .as(wrong)
          .isInstanceOf(Refused.class);
    }
  }

  /** On any holdings, what is found in one statement is what is found person by person. */
  @Test
  void what_is_found_set_by_set_is_what_is_found_one_by_one() {
    var random = new Random(20270301);
    var scan = environment.get(ConflictScan.class);
    var mapper = environment.get(ConflictMapper.class);
    var keys = List.of("a/1", "a/2", "a/3", "b/1", "b/2", "b/3", "b/4");
    environment.sql.update("delete from holding");
    environment.sql.update("delete from account");
    var held = new ArrayList<Set<String>>();
    for (var person = 0; person < 120; person++) {
      var own = new TreeSet<String>();
      for (var account = 0; account < 2; account++) {
        var id = 1_000_000L + person * 2L + account;
        environment.sql.update(
            "insert into account (id, person_id, application, base_name, number, name, container, attributes, state, next_sequence) values (?, ?, ?, 'x', ?, ?, '', '{}', 'enabled', 1)",
            id,
            900_000L + person,
            account == 0 ? "a" : "b",
            person,
            "x" + person);
        for (var key : keys) {
          if (key.startsWith(account == 0 ? "a" : "b") && random.nextInt(3) == 0) {
            var desired = random.nextBoolean();
            var observed = random.nextBoolean();
            environment.sql.update(
                "insert into holding (account_id, entitlement, desired, observed) values (?, ?, ?, ?)",
                id,
                key,
                desired,
                observed);
            if (desired || observed) {
              own.add(key);
            }
          }
        }
      }
      held.add(own);
    }
    var rules = new ArrayList<ConflictRule>();
    for (var i = 0; i < 30; i++) {
      var mixed = new ArrayList<>(keys);
      java.util.Collections.shuffle(mixed, random);
      rules.add(
          i % 2 == 0
              ? rule(
                  "r" + i,
                  List.of(
                      Set.copyOf(mixed.subList(0, 2)),
                      Set.copyOf(mixed.subList(2, 3 + random.nextInt(3)))),
                  Set.of(),
                  1)
              : rule("r" + i, List.of(), Set.copyOf(mixed.subList(0, 4)), 1 + random.nextInt(3)));
    }
    environment.transactions.run(() -> scan.find(rules));
    for (var rule : rules) {
      var expected = new TreeSet<Long>();
      for (var person = 0; person < held.size(); person++) {
        if (rule.isBroken(held.get(person))) {
          expected.add(900_000L + person);
        }
      }
      var actual =
          environment
              .sql
              .queryForList(
                  "select person_id from conflict_found where rule_key = ?", Long.class, rule.key())
              .stream()
              .collect(Collectors.toCollection(TreeSet::new));
      assertThat(actual).as(rule.toString()).isEqualTo(expected);
    }
    environment.transactions.run(mapper::clearFound);
  }

  private static ConflictRule rule(String key, List<Set<String>> sides, Set<String> of, int most) {
    return new ConflictRule(key, key, "x", sides, of, most, List.of(), 30, Optional.empty());
  }

  @Test
  void who_answers_for_one_rule_sees_their_people_under_every_other() {
    environment.define(
        "conflict-rule: another\nrisk: x\nfrom: 2030-01-01\nsides: [chartshare/charts, chartshare/drawings]\n",
        false);
    give(1, "W-3", "draughts");
    assertThat(all(OTHER_OWNER)).isEmpty();
    assertThat(all(owner("bo", "W-2", "another")))
        .extracting(ConflictListed::worker, ConflictListed::rule)
        .containsExactly(tuple("W-3", "shelf-and-draw"));
    assertThat(
            views.list(
                "another", null, null, null, Long.MAX_VALUE, 10, owner("bo", "W-2", "another")))
        .isEmpty();
  }

  @Test
  void rules_that_are_known_are_listed_for_who_answers_for_them() {
    assertThat(environment.catalogues.current().defined().all(ConflictRuleKind.class)).hasSize(1);
    assertThat(views.matrix(OWNER).rules()).hasSize(1);
    assertThat(views.matrix(OTHER_OWNER).rules()).isEmpty();
  }
}
