package glenmoor.engine.definitions;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Definitions through their door: all or nothing, and the same back. */
class DefinitionServiceTest extends EngineTest {
  private static List<String> words(List<Difference> differences) {
    return differences.stream().map(d -> d.change() + " " + d.kind() + " " + d.key()).toList();
  }

  @Test
  void what_was_loaded_is_dumped_and_loads_again_without_a_difference() {
    var dumped = environment.definitions.dump(TestEnvironment.ISA);
    var again = environment.define(dumped, true);
    assertThat(again.differences()).isEmpty();
    assertThat(again.unchanged()).isEqualTo(environment.number("select count(*) from definition"));
    assertThat(environment.definitions.dump(TestEnvironment.ISA)).isEqualTo(dumped);
  }

  @Test
  void one_mistake_keeps_all_of_it_out_and_every_mistake_is_told() {
    var revision = environment.catalogues.current().revision();
    assertThatThrownBy(() ->
            environment.define(
                "package: a\nentitlements: [chartshare/charts]\n---\npackage: b\nentitlements: [chartshare/nowhere]\n---\nbirthright: c\npackage: a\nwhere: person.shoe > 3\n",
                false))
        .isInstanceOfSatisfying(
            Refused.class,
            refused -> {
              assertThat(refused.mistakes()).hasSize(2);
              assertThat(refused.mistakes().getFirst().pointer()).startsWith("x.yaml line ");
            });
    assertThat(environment.catalogues.current().revision()).isEqualTo(revision);
    assertThat(environment.catalogues.current().packages()).doesNotContainKey("a");
  }

  @Test
  void differences_are_told_before_and_after() {
    var files =
        List.of(
            new DefinitionFile(
                "x.yaml",
                "package: westholm\nname: At the west\nentitlements: [chartshare/westholm]\n---\npackage: attic\nentitlements: []\n"));
    assertThat(words(environment.wouldDefine(files, false, false).differences()))
        .containsExactlyInAnyOrder("changed package westholm", "added package attic");
    assertThat(environment.catalogues.current().packages()).doesNotContainKey("attic");
    environment.define(files, false);
    assertThat(environment.catalogues.current().packages().get("westholm").name())
        .isEqualTo("At the west");
    assertThat(environment.happened("definition:package/attic"))
        .containsExactly("definition-added");
  }

  @Test
  void replacing_drops_what_is_not_named_and_what_needs_it_must_go_too() {
    var without = TestEnvironment.skerryLine().replaceAll("(?s)---\nbirthright: shipyard.*", "");
    assertThat(words(environment.define(without, true).differences()))
        .containsExactly("dropped birthright shipyard");
    assertThatThrownBy(() ->
            environment.define(without.replaceAll("(?s)---\npackage: westholm.*?\\]\n", ""), true))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("westholm");
  }

  @Test
  void the_forecast_counts_what_people_would_gain_and_lose() {
    environment.load(
        "W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,,,",
        "W-2,Bo,Tarn,Shipyard,Westholm,W-1,2021-05-01,,,");
    var files =
        List.of(
            new DefinitionFile(
                "x.yaml",
                "birthright: at-westholm\npackage: westholm\nwhere: person.department == \"Deck\"\n"));
    var sum = environment.wouldDefine(files, false, false).forecast();
    assertThat(sum.operations()).isEqualTo(1);
    assertThat(environment.number("select count(*) from operation where kind = 'remove'")).isZero();
    environment.define(files, false);
    environment.agenda.sweep();
    assertThat(environment.number("select count(*) from operation where kind = 'remove'"))
        .isEqualTo(1);
  }

  @Test
  void the_same_thing_twice_is_a_mistake_with_both_places() {
    assertThatThrownBy(() ->
            environment.define(
                "package: a\nentitlements: []\n---\npackage: a\nentitlements: []\n", false))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("already at x.yaml line 1");
  }

  @Test
  void what_somebody_has_is_neither_dropped_nor_called_otherwise() {
    environment.load("W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,,,");
    assertThatThrownBy(
            () -> environment.define("entitlement: chartshare/charts\ntechnical: Maps\n", false))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("x.yaml line 1")
        .hasMessageContaining("while one account has it");
    assertThatThrownBy(
            () -> environment.define("fact: given\n---\nfact: start\ntype: date\n", true))
        .isInstanceOfSatisfying(
            Refused.class,
            refused ->
                assertThat(refused.mistakes())
                    .extracting(Refused.Mistake::sentence)
                    .anySatisfy(each -> assertThat(each).startsWith("application: chartshare"))
                    .anySatisfy(
                        each -> assertThat(each).startsWith("entitlement: chartshare/westholm"))
                    .noneSatisfy(each -> assertThat(each).contains("drawings")));
    assertThat(
            environment
                .define(
                    "entitlement: chartshare/charts\ntechnical: Charts\nname: Sea charts\n", false)
                .differences())
        .as("its plain name may change")
        .hasSize(1);
  }

  @Test
  void what_nobody_has_any_more_can_be_dropped() {
    environment.load("W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,,,");
    environment.sent();
    var without =
        TestEnvironment.skerryLine().replaceAll("(?s)---\nbirthright: at-westholm.*?(?=---)", "");
    environment.define(without, true);
    environment.agenda.sweep();
    environment.settled();
    var less =
        without
            .replaceAll("(?s)---\nentitlement: chartshare/westholm.*?(?=---)", "")
            .replaceAll("(?s)---\npackage: westholm.*?(?=---)", "");
    assertThat(words(environment.define(less, true).differences()))
        .containsExactlyInAnyOrder(
            "dropped entitlement chartshare/westholm", "dropped package westholm");
  }

  @Test
  void only_those_whom_a_change_concerns_are_planned_for_and_nobody_is_missed() {
    environment.load(TestEnvironment.UNA, TestEnvironment.BO);
    environment.sent();
    environment.sql.update("update person set due_at = null");
    var westholm =
        List.of(
            new DefinitionFile(
                "x.yaml",
                "package: westholm\nname: At the west\nentitlements: [chartshare/westholm, chartshare/charts]\n"));
    var sum = environment.wouldDefine(westholm, false, false).forecast();
    environment.define(westholm, false);
    assertThat(
            environment.sql.queryForList(
                "select worker_number from person where due_at is not null", String.class))
        .as("Una is at Westholm, Bo is not")
        .containsExactly("W-1");
    environment.agenda.sweep();
    environment.settled();
    var once = environment.outbox("W-1");
    assertThat(sum.people()).isLessThanOrEqualTo(1);
    environment.sql.update("update person set due_at = '2027-03-01'");
    environment.agenda.sweep();
    environment.settled();
    assertThat(environment.outbox("W-1"))
        .as("planning for everybody finds no more")
        .isEqualTo(once);
    assertThat(environment.number("select count(*) from due_mark")).isZero();
  }

  @Test
  void marking_that_a_service_died_over_is_carried_on_by_the_next_sweep() {
    environment.load(TestEnvironment.UNA, TestEnvironment.BO);
    environment.sent();
    environment.sql.update("update person set due_at = null");
    environment.sql.update(
        "insert into due_mark (id, cause, applications, targets, everybody) values (1, 'definitions:9', '[]', '[]', true)");
    environment.get(DueMarks.class).carryOut();
    assertThat(environment.number("select count(*) from due_mark")).isZero();
    assertThat(environment.number("select count(*) from person where due_cause = 'definitions:9'"))
        .isEqualTo(2);
    environment.agenda.sweep();
    assertThat(environment.number("select count(*) from person where due_at <= now()")).isZero();
  }

  @Test
  void the_contents_of_packages_are_rows_that_follow_their_definitions() {
    var contents =
        "select concat(package_key, ': ', group_concat(entitlement order by entitlement)) from package_content where package_key = 'extra' group by package_key";
    var extra = "package: extra\nentitlements: [chartshare/charts, chartshare/westholm]\n";
    environment.define(extra, false);
    assertThat(environment.sql.queryForList(contents, String.class))
        .containsExactly("extra: chartshare/charts,chartshare/westholm");
    environment.define(extra.replace("chartshare/charts, ", ""), false);
    assertThat(environment.sql.queryForList(contents, String.class))
        .containsExactly("extra: chartshare/westholm");
    environment.define(TestEnvironment.skerryLine(), true);
    assertThat(environment.sql.queryForList(contents, String.class)).isEmpty();
    assertThat(
            environment.number(
                "select count(*) from package_content for system_time all where package_key = 'extra'"))
        .as("what was once in it is kept")
        .isEqualTo(2);
  }
}
