package glenmoor.engine.lifecycle;

import static glenmoor.engine.TestEnvironment.BO;
import static glenmoor.engine.TestEnvironment.HEADING;
import static glenmoor.engine.TestEnvironment.UNA;
import static glenmoor.engine.TestEnvironment.counted;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.jobs.Job;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Worker numbers in every spelling, and people whom two sources name. */
class SeveralSourcesTest extends EngineTest {
  @BeforeEach
  void second() {
    environment.define(
        TestEnvironment.skerryLine()
            + "\n---\nsource: partners\nname: Partners' desk\nworker: Worker no\ncolumns: {Given: given, Family: family, Department: department, Location: location, Reports to: manager, First day: start, Last day: end}\n",
        true);
  }

  private Job load(String source, String... rows) {
    return environment.loadFrom(source, HEADING + String.join("\r\n", rows));
  }

  private List<String> rejects() {
    return environment.sql.queryForList(
        "select concat(worker, ': ', found, ' / ', expected) from feed_reject where feed_id = (select max(id) from feed)",
        String.class);
  }

  private String of(String worker, String column) {
    return environment.sql.queryForObject(
        "select " + column + " from person where worker_key = lower(?)", String.class, worker);
  }

  @Test
  void another_spelling_of_a_worker_number_is_the_same_person() {
    load("people-office", UNA);
    for (var spelling : List.of("w-1", "Ｗ-1", "W-1\u00a0", "\u2003W-1")) {
      assertThat(counted(load("people-office", UNA.replace("W-1", spelling))))
          .as(spelling)
          .isEmpty();
    }
    assertThat(environment.number("select count(*) from person")).isEqualTo(1);
    assertThat(of("W-1", "worker_number")).isEqualTo("W-1");
    assertThat(environment.people.show("w-1", TestEnvironment.ISA).person().worker())
        .isEqualTo("W-1");
  }

  @Test
  void the_same_worker_number_in_two_spellings_stands_twice() {
    load("people-office", UNA, UNA.replace("W-1", "w-1").replace("Una", "Unna"));
    assertThat(rejects()).singleElement().asString().contains("stands on line 2 already");
  }

  @Test
  void a_manager_may_come_from_another_source() {
    load("people-office", UNA);
    assertThat(counted(load("partners", "P-1,Ada,Holm,Deck,Westholm,w-1,2021-05-01,,,")))
        .containsEntry("joiner", 1);
    assertThat(rejects()).isEmpty();
  }

  @Test
  void whoever_another_source_brings_is_that_ones_and_only_the_row_is_set_aside() {
    load("people-office", UNA, BO);
    var work =
        load("partners", UNA.replace("Una", "Ulla"), "P-1,Ada,Holm,Deck,Westholm,,2021-05-01,,,");
    assertThat(counted(work)).containsEntry("joiner", 1).hasSize(1);
    assertThat(rejects())
        .singleElement()
        .asString()
        .contains("Una Kerrow belongs to People Office");
    assertThat(of("W-1", "name")).isEqualTo("Una Kerrow");
  }

  @Test
  void whoever_left_there_may_come_from_here() {
    load("people-office", UNA, BO);
    load("people-office", UNA);
    assertThat(counted(load("partners", BO))).containsEntry("rehire", 1);
    assertThat(of("W-2", "source")).isEqualTo("partners");
    load("people-office", UNA);
    assertThat(of("W-2", "absent_since")).as("the old source has no say any more").isNull();
  }

  @Test
  void absence_from_one_source_says_nothing_of_anothers_people() {
    load("people-office", UNA, BO);
    load("partners", "P-1,Ada,Holm,Deck,Westholm,,2021-05-01,,,");
    assertThat(environment.number("select count(*) from person where absent_since is not null"))
        .isZero();
  }

  @Test
  void a_source_that_has_people_cannot_be_dropped() {
    load("partners", "P-1,Ada,Holm,Deck,Westholm,,2021-05-01,,,");
    assertThatThrownBy(() -> environment.define(TestEnvironment.skerryLine(), true))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("source: partners cannot be dropped while it has people (1)");
  }

  @Test
  void while_a_feed_of_one_source_is_read_the_other_sources_wait_for_nothing() {
    load("people-office", UNA);
    environment.sql.update(
        "insert into job (id, what, state, done, total, sentence, result, started_at, owner) values (7, 'x', 'running', 0, 0, '', 'null', now(), 'isa')");
    environment.sql.update(
        "insert into feed (id, source, file_name, state, sentence, counts, started_at, loaded_by, work_id, reading_source) values (7, 'people-office', 'x', 'reading', '', '{}', now(), 'isa', 7, 'people-office')");
    assertThat(counted(load("partners", "P-1,Ada,Holm,Deck,Westholm,,2021-05-01,,,"))).hasSize(1);
    environment.sql.update("update feed set reading_source = null, state = 'refused' where id = 7");
    assertThat(counted(load("people-office", UNA, BO))).containsEntry("joiner", 1);
  }

  @Test
  void what_nobody_can_see_is_in_no_fact() {
    for (var hidden : List.of("Una\u202e", "U\u200bna", "Una\u001b[31m", "\ufeffUna")) {
      load("people-office", UNA.replace("Una", hidden));
      assertThat(rejects()).singleElement().asString().contains("invisible", "<U+");
    }
    assertThat(counted(load("people-office", UNA.replace("Una", "می\u200cخواهم"))))
        .as("a joiner that belongs to the script")
        .containsEntry("joiner", 1);
  }

  @Test
  void a_value_that_stands_for_nothing_is_rejected_unless_it_may_be_kept() {
    var mapped =
        TestEnvironment.skerryLine()
            .replace(
                "  Department: department", "  Department: {fact: department, values: {D: Deck}}");
    environment.define(mapped + partners(), true);
    load("people-office", UNA.replace(",Deck,", ",Dekc,"));
    assertThat(rejects()).singleElement().asString().contains("Dekc", "one of D");
    environment.define(
        mapped.replace("values: {D: Deck}}", "values: {D: Deck}, else: keep}") + partners(), true);
    assertThat(counted(load("people-office", UNA.replace(",Deck,", ",Dekc,"))))
        .containsEntry("joiner", 1);
  }

  private static String partners() {
    return "\n---\nsource: partners\nworker: Worker no\ncolumns: {Given: given, First day: start}\n";
  }

  @Test
  void a_start_put_off_is_no_correction() {
    load("people-office", UNA, BO);
    assertThat(counted(load("people-office", UNA, BO.replace("2021-05-01", "2027-05-01"))))
        .containsEntry("start-moved", 1);
  }

  @Test
  void a_file_with_another_separator_or_encoding_is_recognised() {
    var work =
        environment.loadFrom("people-office", HEADING.replace(',', ';') + UNA.replace(',', ';'));
    assertThat(work.sentence()).contains("divided by semicolons", "separator: \";\"");
    assertThat(environment.number("select count(*) from person")).isZero();
  }

  @Test
  void the_digest_of_a_row_is_the_same_on_every_machine() {
    var catalogue = environment.catalogues.current();
    var text = FeedReading.readBy(catalogue.sources().get("people-office"), catalogue);
    assertThat(text).startsWith("{\"columns\":[").doesNotContain("@").contains("\"rules\":2");
  }

  @Test
  void a_file_in_another_encoding_is_recognised_by_its_letters() {
    var work = load("people-office", UNA.replace("Una", "\uFFFDna"), BO.replace("W-1", ""));
    assertThat(work.result()).contains("not UTF-8", "Windows-1252");
    assertThat(rejects()).singleElement().asString().contains("text encoded as UTF-8");
  }
}
