package glenmoor.engine.definitions;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.access.Catalogue;
import glenmoor.core.authorization.Permission;
import glenmoor.core.definitions.Concern;
import glenmoor.core.definitions.DefinitionKind;
import glenmoor.core.definitions.DefinitionKinds;
import glenmoor.core.provisioning.PersonPlan;
import glenmoor.engine.EngineTest;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.provisioning.PersonSnapshots;
import glenmoor.store.people.PersonMapper;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;

/**
 * A change of definitions plans for everybody whose plan becomes another by it. Each kind is
 * changed in some way, and those whom the change names are compared with those for whom planning
 * everybody comes to something else.
 */
class ConcernTest extends EngineTest {
  private static final String FURTHER =
      """
      ---
      team: slip-crew
      members: [W-2, w-3]
      ---
      package: crew
      entitlements: [chartshare/westholm]
      ---
      birthright: crew
      package: crew
      where: '"slip-crew" in person.teams'
      ---
      package: tools
      entitlements: [chartshare/charts]
      ---
      portfolio: yard
      entitlements: [chartshare/drawings]
      ---
      route: manager
      stages:
      - ask: line-manager
        lapse: 7 days
      ---
      offer: charts
      package: tools
      for: person.location == "Westholm"
      asked-by: [person]
      route: manager
      term: up to 30 days
      on-move: end
      ---
      letters: skerry-line
      from: Skerry Line <glenmoor@skerryline.example>
      address: person.worker + "@skerryline.example"
      ---
      letter: welcome
      subject: Welcome aboard
      body: Dear {{person.name}}, welcome.
      ---
      channel: desk
      kind: tickets
      url: ${DESK_URL}
      secret-file: help-desk
      ---
      playbook: hello
      on: joiner
      where: 'true'
      steps:
      - letter: welcome
        to: person
        at: on the day
      ---
      conflict-rule: charts-and-drawings
      risk: Somebody could redraw what they sail by.
      sides: [chartshare/charts, chartshare/drawings]
      ---
      campaign: everything
      judge: entitlements
      reviewers: line-managers
      otherwise: leads
      days: 14 days
      closing: keep
      ---
      reconcile: chartshare
      at: 30 2 * * *
      ---
      brake: feeds
      missing: 20 or 50 %
      ---
      terms: visitor-rules
      version: 1
      text: Give it back.
      """;

  /** A change: what stands in the definitions and what stands there instead. */
  private record Change(String kind, String from, String to) {}

  private static final List<Change> CHANGES =
      List.of(
          new Change("team", "members: [W-2, w-3]", "members: [W-3, w-4]"),
          new Change("team", "members: [W-2, w-3]", "members: [W-1]"),
          new Change("fact", "fact: family\nlongest: 40", "fact: family\nlongest: 50"),
          new Change("source", "name: People Office", "name: The People Office"),
          new Change("application", "title: person.department", "title: person.location"),
          new Change("application", "hold: 30 days", "hold: 20 days"),
          new Change("application", "ready: 7 days", "ready: 90 days"),
          new Change(
              "application",
              "name: fold(person.family) + fold(person.given).substring(0, 1)",
              "name: fold(person.given)"),
          new Change("entitlement", "name: Westholm's shelf", "name: The shelf of Westholm"),
          new Change(
              "package",
              "package: westholm\nname: At Westholm\nentitlements: [chartshare/westholm]",
              "package: westholm\nname: At Westholm\nentitlements: [chartshare/westholm, chartshare/drawings]"),
          new Change(
              "package",
              "entitlements: [chartshare/drawings, chartshare/charts]",
              "entitlements: [chartshare/charts]"),
          new Change(
              "package",
              "package: tools\nentitlements",
              "package: tools\nretired: until 2027-03-20\nentitlements"),
          new Change("birthright", "where: person.department == \"Shipyard\"", "where: 'true'"),
          new Change("birthright", "birthright: shipyard\n", "birthright: the-yard\n"),
          new Change(
              "portfolio",
              "entitlements: [chartshare/drawings]\n",
              "entitlements: [chartshare/charts]\n"),
          new Change("route", "lapse: 7 days", "lapse: 9 days"),
          new Change(
              "offer", "for: person.location == \"Westholm\"", "for: person.location == \"Yell\""),
          new Change("offer", "on-move: end\n", ""),
          new Change("letters", "person.worker +", "person.given +"),
          new Change("letter", "Dear {{person.name}}", "Good morning {{person.name}}"),
          new Change("channel", "kind: tickets", "kind: webhook"),
          new Change("playbook", "where: 'true'\nsteps", "where: person.given == \"Bo\"\nsteps"),
          new Change(
              "conflict-rule",
              "sides: [chartshare/charts, chartshare/drawings]",
              "sides: [chartshare/charts, chartshare/westholm]"),
          new Change("campaign", "closing: keep", "closing: revoke"),
          new Change("reconcile", "at: 30 2", "at: 45 2"),
          new Change("brake", "20 or 50 %", "10 or 30 %"),
          new Change("terms", "version: 1", "version: 2"));

  /** Kinds of which no document takes part in planning, and none is easily made here. */
  private static final Set<String> ELSEWHERE = Set.of("tasks", "exchange", "partner-organisation");

  @Test
  void whoever_is_planned_otherwise_by_a_change_is_among_those_whom_it_names() {
    var definitions = environment.get(Preparing.class);
    var base = TestEnvironment.skerryLine() + FURTHER;
    environment.define(base, true);
    environment.load(
        TestEnvironment.UNA,
        TestEnvironment.BO,
        "W-3,Eske,Yell,Deck,Westholm,W-1,2021-05-01,,,",
        "W-4,Odd,Tarn,Shipyard,Westholm,W-1,2021-05-01,,,",
        "W-5,Liv,Brae,Deck,Westholm,W-1,2027-04-01,,,",
        "W-6,Noor,Fell,Shipyard,Westholm,W-1,2020-01-01,2027-02-20,,");
    environment.sql.update(
        "update access_grant set basis = 'request', basis_key = 'charts#7', target_key = 'tools' where target_key = 'start-kit' and person_id in (select id from person where worker_number = 'W-3')");
    environment.sql.update("update person set due_at = '2027-03-01'");
    environment.planning.planDue();
    environment.sent();

    var changed = new TreeSet<String>();
    var planned = new TreeSet<String>();
    for (var change : CHANGES) {
      assertThat(base).as(change.toString()).contains(change.from());
      var text = base.replace(change.from(), change.to());
      var prepared =
          definitions.prepare(
              List.of(new DefinitionFile("x.yaml", text)),
              true,
              Permission.LOAD_DEFINITIONS,
              TestEnvironment.ISA);
      assertThat(prepared.differences()).as(change.toString()).isNotEmpty();
      changed.add(change.kind());
      var before = plans(environment.catalogues.current());
      var after = plans(prepared.catalogue());
      var other = new ArrayList<String>();
      for (var i = 0; i < before.size(); i++) {
        if (!comesTo(before.get(i)).equals(comesTo(after.get(i)))) {
          other.add(before.get(i).person().worker().value());
        }
      }
      assertThat(named(prepared)).as(change.toString()).containsAll(other);
      if (!other.isEmpty()) {
        planned.add(change.kind());
      }
    }
    // Otherwise nothing was compared with anything.
    assertThat(planned).contains("application", "birthright", "offer", "package", "team");
    changed.addAll(ELSEWHERE);
    assertThat(changed)
        .isEqualTo(
            DefinitionKinds.all().stream()
                .map(DefinitionKind::word)
                .collect(Collectors.toCollection(TreeSet::new)));
  }

  @Test
  void a_team_edit_gives_to_whoever_comes_in_and_takes_from_whoever_goes() {
    var base = TestEnvironment.skerryLine() + FURTHER;
    environment.define(base, true);
    environment.load(
        TestEnvironment.BO.replace("W-1", ""), "W-3,Eske,Yell,Deck,Yell,,2021-05-01,,,");
    assertThat(environment.outbox("W-2")).contains("add chartshare/westholm");
    var edited = base.replace("members: [W-2, w-3]", "members: [W-3]");
    var forecast =
        environment
            .wouldDefine(List.of(new DefinitionFile("x.yaml", edited)), true, false)
            .forecast();
    assertThat(forecast.operations()).isEqualTo(1);
    environment.define(edited, true);
    environment.planning.planDue();
    assertThat(environment.outbox("W-2")).contains("remove chartshare/westholm");
    assertThat(environment.outbox("W-3")).doesNotContain("remove chartshare/westholm");
    environment.define(edited.replace("members: [W-3]", "members: [W-3, W-2]"), true);
    environment.planning.planDue();
    assertThat(environment.outbox("W-2")).endsWith("add chartshare/westholm");
  }

  private List<PersonPlan> plans(Catalogue catalogue) {
    var people = environment.get(PersonMapper.class);
    var ids = environment.sql.queryForList("select id from person order by id", Long.class);
    return environment
        .planning
        .forecaster(catalogue)
        .apply(environment.get(PersonSnapshots.class).of(people.byIds(ids), catalogue));
  }

  private static List<Object> comesTo(PersonPlan plan) {
    return List.of(plan.begin(), plan.amend(), plan.accounts(), plan.nextDue());
  }

  private Set<String> named(Preparing.Prepared prepared) {
    Concern concern = prepared.concern();
    var ids = new TreeSet<Long>();
    environment
        .get(DueMarks.class)
        .each(concern, environment.catalogues.current(), prepared.catalogue(), ids::addAll);
    return ids.stream()
        .map(id ->
            environment.sql.queryForObject(
                "select worker_number from person where id = ?", String.class, id))
        .collect(Collectors.toCollection(TreeSet::new));
  }
}
