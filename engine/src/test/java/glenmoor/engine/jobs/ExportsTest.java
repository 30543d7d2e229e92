package glenmoor.engine.jobs;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.engine.EngineTest;
import glenmoor.engine.TestEnvironment;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/**
 * Whole lists as files: what is in them is what the asker may see, and nobody else fetches them.
 */
class ExportsTest extends EngineTest {
  private static final Actor UNA_HERSELF = new Actor("una", "Una Kerrow", "W-1", List.of());

  private List<String> exported(String list, Map<String, String> filters, Actor actor)
      throws IOException {
    var work = environment.get(Exports.class).begin(new Exports.Export(list, filters), actor);
    TestEnvironment.eventually(() -> !environment.jobs.of(work, actor).open());
    var ended = environment.jobs.of(work, actor);
    assertThat(ended.state()).as(ended.sentence()).isEqualTo("done");
    try (var file = environment.jobs.file(work, actor)) {
      return new String(file.readAllBytes(), StandardCharsets.UTF_8).lines().toList();
    }
  }

  @Test
  void everybody_is_in_it_with_all_facts_and_filters_count() throws IOException {
    environment.load(TestEnvironment.UNA, TestEnvironment.BO);
    var all = exported("people", Map.of(), TestEnvironment.ISA);
    assertThat(all).hasSize(3);
    assertThat(all.getFirst()).startsWith("worker,name,standing,department,end,family");
    assertThat(all.get(1)).startsWith("W-2,Bo Tarn,active,Shipyard,");
    assertThat(exported("people", Map.of("department", "Deck"), TestEnvironment.ISA))
        .hasSize(2)
        .last()
        .asString()
        .startsWith("W-1,");
  }

  @Test
  void more_than_a_page_is_whole() throws IOException {
    environment.sql.update(
        "insert into person (id, worker_number, worker_key, name, search_name, facts, source, source_digest, starts_on) select seq, concat('W-', seq), concat('w-', seq), 'Kai Dock', 'kaidock', '{\"given\":\"Kai\",\"family\":\"Dock\"}', 'people-office', unhex(md5(seq)), '2020-01-01' from seq_1_to_1203");
    assertThat(exported("people", Map.of("sort", "-worker"), TestEnvironment.ISA))
        .hasSize(1_204)
        .doesNotHaveDuplicates();
  }

  @Test
  void a_person_exports_what_they_may_see_and_no_more() throws IOException {
    environment.load(
        TestEnvironment.UNA, TestEnvironment.BO, "W-3,Lin,Dock,Deck,Westholm,,2020-01-01,,,");
    environment.askers.put("una", UNA_HERSELF);
    assertThat(exported("people", Map.of(), UNA_HERSELF)).as("herself and her report").hasSize(3);
    assertThatThrownBy(() ->
            environment
                .get(Exports.class)
                .begin(new Exports.Export("ledger", Map.of()), UNA_HERSELF))
        .hasMessageContaining("read the ledger");
  }

  @Test
  void operations_and_the_ledger_are_in_theirs() throws IOException {
    environment.load(TestEnvironment.UNA);
    environment.sent();
    assertThat(exported("operations", Map.of("worker", "W-1"), TestEnvironment.ISA)).hasSize(4);
    assertThat(exported("ledger", Map.of("subject", "person:W-1"), TestEnvironment.ISA))
        .hasSizeGreaterThan(2)
        .allMatch(line -> line.startsWith("entry,") || line.contains("person:W-1"));
  }

  @Test
  void a_name_that_is_a_formula_is_a_text() throws IOException {
    environment.load("W-1,=2+2,Kerrow,Deck,Westholm,,2020-01-01,,,");
    assertThat(exported("people", Map.of(), TestEnvironment.ISA).getLast())
        .contains("'=2+2 Kerrow")
        .doesNotContain(",=2+2");
  }

  @Test
  void only_whoever_asked_for_it_fetches_it_and_only_for_some_hours() throws IOException {
    environment.load(TestEnvironment.UNA);
    var work =
        environment
            .get(Exports.class)
            .begin(new Exports.Export("people", Map.of()), TestEnvironment.ISA);
    environment.ended(work);
    assertThatThrownBy(() -> environment.jobs.file(work, TestEnvironment.RONA))
        .hasMessageContaining("You have no file");
    environment.sql.update("update job_part set kept_at = sysdate(6) - interval 1 day");
    environment.jobs.recurring().getFirst().work().run();
    assertThatThrownBy(() -> environment.jobs.file(work, TestEnvironment.ISA))
        .hasMessageContaining("export it again");
    assertThatThrownBy(() ->
            environment
                .get(Exports.class)
                .begin(new Exports.Export("crates", Map.of()), TestEnvironment.ISA))
        .hasMessageContaining("ledger, operations, people");
    assertThatThrownBy(() ->
            environment
                .get(Exports.class)
                .begin(new Exports.Export("people", Map.of("shoe", "42")), TestEnvironment.ISA))
        .hasMessageContaining("no filter “shoe”");
  }
}
