package glenmoor.engine.provisioning;

import static glenmoor.engine.TestEnvironment.BO;
import static glenmoor.engine.TestEnvironment.UNA;
import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.engine.EngineTest;
import glenmoor.engine.TestEnvironment;
import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

/** People whose names collide, and people who cannot be planned: nobody stops the others. */
class NamesakesTest extends EngineTest {
  private List<String> names() {
    return environment.sql.queryForList(
        "select name from account where state != 'none' order by name", String.class);
  }

  @Test
  void two_of_one_name_and_one_whose_name_ends_in_the_number_are_told_apart() {
    environment.load(
        "W-1,w,Ro,Deck,Westholm,,2020-01-01,,,",
        "W-2,w,Ro,Deck,Westholm,,2020-01-01,,,",
        "W-3,2x,Row,Deck,Westholm,,2020-01-01,,,");
    assertThat(names()).containsExactly("row", "row2", "row22");
    environment.load(
        "W-1,w,Ro,Deck,Westholm,,2020-01-01,,,",
        "W-2,w,Ro,Deck,Westholm,,2020-01-01,,,",
        "W-3,2x,Row,Deck,Westholm,,2020-01-01,,,",
        "W-4,w,Ro,Deck,Westholm,,2020-01-01,,,");
    assertThat(names()).containsExactly("row", "row2", "row22", "row3");
  }

  @Test
  void hundreds_of_one_name_planned_for_side_by_side_each_have_their_own() {
    var rows =
        IntStream.rangeClosed(1, 900)
            .mapToObj("W-%d,w,Ro,Deck,Westholm,,2020-01-01,,,"::formatted)
            .toArray(String[]::new);
    environment.load(rows);
    assertThat(names()).hasSize(900).doesNotHaveDuplicates();
    assertThat(environment.number("select count(*) from person where due_at <= '2027-03-02'"))
        .isZero();
    assertThat(environment.number("select count(*) from trouble")).isZero();
    assertThat(environment.number("select count(*) from operation where kind = 'create'"))
        .isEqualTo(900);
  }

  @Test
  void a_name_that_was_given_up_goes_to_nobody_else_for_the_configured_time() {
    environment.define(
        TestEnvironment.skerryLine()
            .replace("  rename: on-change", "  rename: on-change\n  keep-names: 100 days"),
        true);
    environment.load(UNA, BO);
    environment.load(UNA.replace("Kerrow", "Kerr"), BO);
    environment.load(
        UNA.replace("Kerrow", "Kerr"), BO, "W-3,Ulla,Kerrow,Deck,Westholm,,2020-01-01,,,");
    assertThat(names()).contains("kerru", "kerrowu2");
    environment.at("2027-06-20T06:00:00Z");
    environment.load(
        UNA.replace("Kerrow", "Kerr"),
        BO,
        "W-3,Ulla,Kerrow,Deck,Westholm,,2020-01-01,,,",
        "W-4,Uma,Kerrow,Deck,Westholm,,2020-01-01,,,");
    assertThat(names()).contains("kerrowu2", "kerrowu3");
  }

  @Test
  void whoever_takes_their_old_name_back_may_have_it() {
    environment.load(UNA);
    environment.load(UNA.replace("Kerrow", "Kerr"));
    environment.load(UNA);
    assertThat(names()).hasSize(1);
    assertThat(names().getFirst()).startsWith("kerrowu");
  }

  @Test
  void a_name_too_long_is_cut_by_the_rule() {
    environment.define(
        TestEnvironment.skerryLine()
            .replace("  rename: on-change", "  rename: on-change\n  longest: 8"),
        true);
    environment.load(
        "W-1,Una,Kerrowsdottir,Deck,Westholm,,2020-01-01,,,",
        "W-2,Una,Kerrowsdottir,Deck,Westholm,,2020-01-01,,,");
    assertThat(names()).containsExactly("kerrows2", "kerrowsd");
  }

  @Test
  void one_person_who_cannot_be_planned_is_set_aside_and_the_others_go_on() {
    var rows = new String[40];
    for (var i = 0; i < rows.length; i++) {
      rows[i] = "W-%1$d,Kai,Dock%1$d,Deck,Westholm,,2020-01-01,,,".formatted(i);
    }
    environment.load(rows);
    environment.sent();
    environment.sql.update(
        "update person set facts = '{\"start\":\"no date\"}' where worker_number = 'W-7'");
    environment.sql.update("update person set due_at = '2027-03-01'");
    environment.agenda.sweep();
    assertThat(environment.number("select count(*) from person where due_at <= '2027-03-01 12:00'"))
        .isZero();
    assertThat(environment.people.troubles(TestEnvironment.ISA))
        .singleElement()
        .satisfies(each -> {
          assertThat(each.workerNumber()).isEqualTo("W-7");
          assertThat(each.sentence()).contains("log").doesNotContain("Exception");
        });
    assertThat(environment.happened("person:W-7")).contains("person-set-aside");
    assertThat(environment.user("W-7").path("active").asBoolean())
        .as("they keep what they had")
        .isTrue();
    rows[9] = rows[9].replace("2020-01-01,", "2020-01-01,2027-02-20");
    rows[7] = rows[7].replace("Dock7", "Mended");
    environment.load(rows);
    environment.settled();
    assertThat(environment.user("W-9").path("active").asBoolean())
        .as("a leaver loaded afterwards")
        .isFalse();
    assertThat(environment.people.troubles(TestEnvironment.ISA)).isEmpty();
  }

  @Test
  void a_condition_that_cannot_be_answered_takes_nothing_and_stands_on_the_work_list() {
    environment.load(UNA, BO);
    environment.sent();
    environment.define(
        TestEnvironment.skerryLine()
            .replace(
                "where: person.location == \"Westholm\"",
                "where: person.location.substring(6) == \"lm\""),
        true);
    environment.agenda.sweep();
    environment.load(UNA.replace("Westholm", "Here"), BO);
    environment.settled();
    assertThat(environment.groups("W-1")).contains("Westholm");
    assertThat(environment.people.troubles(TestEnvironment.ISA))
        .anySatisfy(each -> {
          assertThat(each.workerNumber()).isEqualTo("W-1");
          assertThat(each.place()).isEqualTo("birthright: at-westholm");
          assertThat(each.sentence()).contains("a place that the text");
        });
    environment.define(TestEnvironment.skerryLine(), true);
    environment.agenda.sweep();
    environment.settled();
    assertThat(environment.people.troubles(TestEnvironment.ISA)).isEmpty();
    assertThat(environment.groups("W-1")).doesNotContain("Westholm");
  }

  @Test
  void one_native_identity_serves_one_account() {
    environment.load(UNA, BO);
    environment.sent();
    var id = environment.user("W-1").path("id").asString();
    environment.sql.update(
        "update account set native_id = ?, native_key = unhex(sha2(?, 256)) where native_id is not null and person_id = (select id from person where worker_number = 'W-2')",
        "gone",
        "gone");
    assertThat(environment.number("select count(*) from account where native_id = '" + id + "'"))
        .isEqualTo(1);
    environment.sql.update(
        "update account set native_id = null, native_key = null where person_id = (select id from person where worker_number = 'W-1')");
    environment.sql.update(
        "update account set native_id = ?, native_key = unhex(sha2(?, 256)) where person_id = (select id from person where worker_number = 'W-2')",
        id,
        id);
    environment.load(UNA.replace("Una", "Oona"), BO);
    TestEnvironment.eventually(
        () -> environment.number("select count(*) from operation where state = 'fault'") == 1);
    assertThat(
            environment.sql.queryForObject(
                "select reason from operation where state = 'fault'", String.class))
        .contains("somebody else's account");
    assertThat(environment.user("W-1").path("displayName").asString()).isEqualTo("Una Kerrow");
  }
}
