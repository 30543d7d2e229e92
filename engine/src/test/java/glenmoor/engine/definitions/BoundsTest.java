package glenmoor.engine.definitions;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Definition files that would keep the service busy, or take it for a ride. */
class BoundsTest extends EngineTest {
  private void refused(String yaml, String... words) {
    assertThatThrownBy(() -> environment.define(yaml, false))
        .isInstanceOfSatisfying(
            Refused.class,
            refused -> assertThat(refused.getMessage() + refused.mistakes()).contains(words));
  }

  @Test
  void an_alias_bomb_is_refused_at_its_first_anchor() {
    var bomb = new StringBuilder("package: bomb\na0: &a0 [x,x,x,x,x,x,x,x,x,x]\n");
    for (var i = 1; i < 20; i++) {
      bomb.append(
          "a%1$d: &a%1$d [*a%2$d,*a%2$d,*a%2$d,*a%2$d,*a%2$d,*a%2$d]\n".formatted(i, i - 1));
    }
    refused(bomb.toString(), "x.yaml line 2", "Anchors and aliases");
  }

  @Test
  void size_depth_and_number_have_limits_that_are_named() {
    refused("package: deep\nx: " + "[".repeat(60) + "]".repeat(60), "20 deep");
    refused("---\npackage: a\n".repeat(20_001), "20,000 documents");
    refused("package: long\nname: " + "x".repeat(20_001), "20,000 characters");
    refused(
        "birthright: b\npackage: start-kit\nwhere: '" + "true && ".repeat(600) + "true'", "4,000");
    refused("# " + "x".repeat(5 << 20), "4,194,304");
  }

  @Test
  void many_small_documents_are_told_of_in_a_moment() {
    var before = System.nanoTime();
    refused("---\nnonsense: a\n".repeat(19_000), "19000 things are wrong");
    assertThat(System.nanoTime() - before).isLessThan(20_000_000_000L);
  }

  @Test
  void mistakes_in_expressions_are_told_in_words_with_what_would_work() {
    refused(
        "birthright: b\npackage: start-kit\nwhere: person.departmnt == \"Deck\"",
        "did you mean department?");
    refused(
        "birthright: b\npackage: start-kit\nwhere: person.start > 3",
        "a date and a whole number cannot be compared");
    refused(
        "birthright: b\npackage: start-kit\nwhere: fodl(person.given) == \"a\"",
        "did you mean fold?");
    refused(
        "birthright: b\npackage: start-kit\nwhere: person.given",
        "a text where yes or no is needed");
    refused(
        "birthright: b\npackage: start-kit\nwhere: (person.given", "cannot be read from here on");
  }

  @Test
  void what_cannot_work_is_found_before_it_is_loaded() {
    refused("fact: in\n", "cannot be called in");
    refused("fact: worker\n", "cannot be called worker");
    refused("package: p\nentitlements: [chartshare/charts, chartshare/charts]\n", "given twice");
    refused(
        "application: other\nconnector: scim\nsettings: {url: x}\naccount: {name: 'accounts[\"chartshare\"]'}\n",
        "add it under after");
    refused("brake: wheels\n", "definitions, feeds, playbooks and reconciles");
  }

  @Test
  void what_fails_for_somebody_is_told_by_trying_everybody() {
    environment.load(TestEnvironment.UNA, TestEnvironment.BO);
    var files =
        List.of(
            new DefinitionFile(
                "x.yaml",
                "birthright: b\npackage: start-kit\nwhere: person.family.substring(5) == \"w\"\n"));
    assertThat(environment.wouldDefine(files, false, false).warnings())
        .singleElement()
        .asString()
        .contains("birthright: b", "1 person, such as W-2");
  }

  @Test
  void a_facts_type_stays_while_people_have_other_values() {
    environment.define("fact: ferry\n", false);
    environment.load(TestEnvironment.UNA);
    environment.sql.update("update person set facts = json_set(facts, '$.ferry', 'Skua')");
    refused("fact: ferry\ntype: date\n", "its type cannot be changed", "W-1");
  }

  @Test
  void an_application_is_asked_for_what_it_lacks() {
    var files =
        List.of(
            new DefinitionFile(
                "x.yaml", "entitlement: chartshare/attic\ntechnical: Attic\nname: The attic\n"));
    assertThat(environment.wouldDefine(files, false, true).missing())
        .singleElement()
        .asString()
        .contains("Attic");
  }

  @Test
  void account_names_can_be_tried_before_anything_is_loaded() {
    var named =
        environment
            .get(NameTrials.class)
            .names(
                List.of(),
                List.of(
                    Map.of("worker", "T-1", "given", "Юлия", "family", "Щукина"),
                    Map.of("worker", "T-2", "given", "Юлия", "family", "Щукина"),
                    Map.of("worker", "T-3", "given", "", "family", "…")),
                TestEnvironment.ISA);
    assertThat(named)
        .extracting(each -> each.accounts().get("chartshare"))
        .startsWith("shchukinay", "shchukinay2")
        .element(2)
        .asString()
        .contains("cannot be answered");
    assertThat(environment.number("select count(*) from account")).isZero();
  }
}
