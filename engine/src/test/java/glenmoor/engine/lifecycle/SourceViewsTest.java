package glenmoor.engine.lifecycle;

import static glenmoor.engine.TestEnvironment.ISA;
import static glenmoor.engine.TestEnvironment.counted;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.entry;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.core.jobs.Job;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** People that are read from a table of another database. */
class SourceViewsTest extends EngineTest {
  private static final String ALL =
      "select staff_no, given, family, place, begins from crew_list order by staff_no";
  private static final String CHANGED =
      "select staff_no, given, family, place, begins, changed_at from crew_list where changed_at >= :watermark";

  private SourceViews views;

  @BeforeEach
  void make() throws Exception {
    views = environment.get(SourceViews.class);
    Files.copy(
        Path.of(System.getenv("GLENMOOR_TEST_DATABASE_PASSWORD_FILE")),
        environment.directory.resolve("crew"));
    environment.sql.execute("drop table if exists crew_list");
    environment.sql.execute(
        "create table crew_list (staff_no varchar(20) primary key, given varchar(60), family varchar(60), place varchar(60), begins date, changed_at datetime(3) not null)");
    put("C-1", "Una", "Kerrow", "Westholm", "2027-02-01 10:00:00");
    put("C-2", "Bo", "Tarn", "Hallow Quay", "2027-02-02 10:00:00");
  }

  @AfterEach
  void drop() {
    environment.sql.execute("drop table if exists crew_list");
  }

  private void put(String staff, String given, String family, String place, String changed) {
    environment.sql.update(
        "replace into crew_list values (?, ?, ?, ?, '2020-01-01', ?)",
        staff,
        given,
        family,
        place,
        changed);
  }

  private void defined(String mode, String view) {
    environment.define(
        """
        source: crew
        name: Crew database
        mode: %s
        worker: staff_no
        columns: {given: given, family: family, place: location, begins: start}
        view:
          url: mariadb://127.0.0.1:%s/%s
          user: glenmoor
          password-file: crew
        %s
        """
            .formatted(
                mode,
                System.getenv("GLENMOOR_TEST_DATABASE_PORT"),
                environment.sql.queryForObject("select database()", String.class),
                view.indent(2)),
        false);
  }

  private void full() {
    defined("full", "select: " + ALL);
  }

  private void changes() {
    defined(
        "changes",
        "select: '" + CHANGED + "'\nwatermark: changed_at\nsince: '2000-01-01 00:00:00'");
  }

  private Job collected() {
    var begun = views.collect("crew", ISA).begun();
    assertThat(begun).hasSize(1);
    return environment.ended(begun.getFirst().work());
  }

  private String watermark() {
    return environment.sql.queryForObject("select value from source_watermark", String.class);
  }

  @Test
  void everybody_is_read_and_whoever_is_not_there_any_more_has_left() {
    full();
    assertThat(counted(collected())).containsOnly(entry("joiner", 2));
    assertThat(environment.people.show("C-1", ISA).person().name()).isEqualTo("Una Kerrow");
    environment.sql.update("delete from crew_list where staff_no = 'C-2'");
    put("C-1", "Una", "Kerrow", "Tarn Point", "2027-02-03 10:00:00");
    assertThat(counted(collected())).containsOnly(entry("mover", 1), entry("leaver", 1));
  }

  @Test
  void an_empty_table_ends_nobody() {
    full();
    collected();
    environment.sql.update("delete from crew_list");
    assertThat(collected().state()).isEqualTo("refused");
    assertThat(environment.people.show("C-1", ISA).person().standing()).isEqualTo("active");
  }

  @Test
  void only_what_changed_is_read_and_nothing_twice() {
    changes();
    assertThat(counted(collected())).containsOnly(entry("joiner", 2));
    put("C-1", "Una", "Kerrow", "Tarn Point", "2027-02-05 10:00:00");
    var second = collected();
    assertThat(counted(second)).containsOnly(entry("mover", 1));
    assertThat(watermark()).as("how far the first reading came").startsWith("2027-02-02 10:00");
    assertThat(second.result())
        .as("what was there at the watermark is read again")
        .contains("2 rows");
    assertThat(counted(collected())).isEmpty();
    assertThat(watermark()).startsWith("2027-02-05 10:00");
  }

  @Test
  void what_was_not_taken_whole_is_read_again() {
    changes();
    put("C-3", "Kai", "Dock", "Westholm", "2027-02-03 10:00:00");
    environment.sql.update("update crew_list set given = '', family = '' where staff_no = 'C-2'");
    environment.sql.update("update crew_list set place = 'x\u0007y' where staff_no = 'C-2'");
    assertThat(collected().result()).contains("\"rejected\":1");
    put("C-2", "Bo", "Tarn", "Hallow Quay", "2027-02-02 10:00:00");
    assertThat(counted(collected())).as("mended, and not changed since").containsKey("joiner");
    assertThat(environment.people.show("C-2", ISA).person().name()).isEqualTo("Bo Tarn");
  }

  @Test
  void what_cannot_be_read_says_why_and_tells_no_secret() {
    defined("full", "select: select nothing from crew_list");
    assertThatThrownBy(() -> views.collect("crew", ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("Crew database cannot be read")
        .hasMessageContaining("SQL state 42")
        .hasMessageNotContaining("nothing from");
    defined("full", "select: " + ALL + "\ntrust-file: /nowhere");
    assertThatThrownBy(() -> views.collect("crew", ISA)).isInstanceOf(Refused.class);
  }

  @Test
  void only_whoever_loads_feeds_reads_it() {
    full();
    var auditor = new Actor("eva", "Eva Holm", null, List.of(Assignment.of(Duty.AUDITOR)));
    assertThatThrownBy(() -> views.collect("crew", auditor))
        .hasMessageContaining("may not load a feed");
  }

  @Test
  void nothing_is_changed_there() {
    defined("full", "select: with gone as (select 1) select staff_no from crew_list");
    refused("full", "select: delete from crew_list", "select only reads");
    refused("full", "select: select 1 into outfile '/tmp/x'", "select only reads");
  }

  @Test
  void a_watermark_is_whole_or_none() {
    refused("changes", "select: '" + CHANGED + "'", "say all three");
    refused("changes", "select: " + ALL, "go");
    refused(
        "full",
        "select: '" + CHANGED + "'\nwatermark: changed_at\nsince: '2000-01-01'",
        "mode: changes");
    refused("full", "select: " + ALL + "\ndatabase: other", "database");
  }

  private void refused(String mode, String view, String sentence) {
    assertThatThrownBy(() -> defined(mode, view))
        .isInstanceOf(Refused.class)
        .extracting(refused -> ((Refused) refused).mistakes().toString())
        .asString()
        .contains(sentence);
  }

  @Test
  void it_is_read_when_it_is_due() {
    defined("full", "select: " + ALL + "\nat: 0 7 * * *");
    views.scheduled();
    assertThat(environment.number("select count(*) from person where source = 'crew'")).isZero();
    environment.at("2027-03-01T07:00:30Z");
    views.scheduled();
    TestEnvironment.eventually(
        () -> environment.number("select count(*) from person where source = 'crew'") == 2);
  }
}
