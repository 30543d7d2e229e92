package glenmoor.engine.lifecycle;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.core.brakes.KeptChange;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.definitions.DefinitionFile;
import glenmoor.engine.jobs.WorkContents;
import glenmoor.store.jobs.JobMapper;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

/** Feeds and definitions that would end too much wait for somebody else. */
class BrakesTest extends EngineTest {
  private static final Actor OTHER =
      new Actor("rona", "Rona Bell", null, List.of(Assignment.of(Duty.ADMINISTRATOR)));
  private static final int COMPANY = 60;

  private final String[] everybody =
      IntStream.range(0, COMPANY)
          .mapToObj("W-%1$d,Kai,Dock%1$d,Deck,Westholm,,2020-01-01,,,"::formatted)
          .toArray(String[]::new);

  private static String[] without(String[] rows, int from) {
    return Arrays.copyOf(rows, from);
  }

  private KeptChange held() {
    return environment.held.list("held", Long.MAX_VALUE, 9, TestEnvironment.ISA).getFirst();
  }

  private long left() {
    return environment.number("select count(*) from person where absent_since is not null");
  }

  @Test
  void a_file_that_lost_a_third_of_the_company_waits_whole_and_says_so() {
    environment.load(everybody);
    environment.sent();
    var work = environment.load(without(everybody, 40));
    assertThat(work.result()).contains("\"whole\":false");
    assertThat(left()).isZero();
    var held = held();
    assertThat(held.sentence())
        .contains("20 of 60 people are missing from the file", "would lose access");
    assertThat(environment.held.show(held.id(), TestEnvironment.ISA).forecast())
        .contains("\"losing\":20");
    assertThat(environment.feeds.list(Long.MAX_VALUE, 1, TestEnvironment.ISA).getFirst().state())
        .isEqualTo("held");
    assertThat(environment.happened("held:" + held.id())).containsExactly("change-held");
  }

  @Test
  void only_somebody_else_releases_it_and_then_it_is_carried_out() {
    environment.load(everybody);
    environment.load(without(everybody, 40));
    var held = held();
    assertThatThrownBy(() -> environment.held.release(held.id(), "all right", TestEnvironment.ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("somebody else");
    assertThatThrownBy(() -> environment.held.release(held.id(), " ", OTHER))
        .isInstanceOf(Refused.class);
    var done = environment.ended(environment.held.release(held.id(), "the ferry was sold", OTHER));
    assertThat(done.state()).as(done.sentence()).isEqualTo("done");
    assertThat(left()).isEqualTo(20);
    assertThat(environment.happened("held:" + held.id()))
        .containsExactly("change-held", "change-released");
    assertThatThrownBy(() -> environment.held.release(held.id(), "once more", OTHER))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("already");
    assertThat(environment.number("select count(*) from held_part")).isZero();
  }

  @Test
  void a_release_that_could_not_be_carried_out_is_held_again() {
    environment.load(everybody);
    environment.load(without(everybody, 40));
    var held = held();
    // Nothing can be kept of a feed while its rows cannot be.
    environment.sql.execute("rename table ledger_entry to away");
    try {
      assertThatThrownBy(() -> environment.held.release(held.id(), "the ferry was sold", OTHER));
      assertThat(held().state()).isEqualTo("held");
      environment.sql.execute("rename table away to ledger_entry, event to away");
      var work =
          environment.ended(environment.held.release(held.id(), "the ferry was sold", OTHER));
      assertThat(work.state()).isEqualTo("refused");
    } finally {
      environment.sql.execute("rename table away to event");
    }
    assertThat(left()).isZero();
    assertThat(held().id()).isEqualTo(held.id());
    assertThat(environment.happened("held:" + held.id()))
        .containsExactly("change-held", "change-released", "change-held-again");
    assertThat(environment.ended(environment.held.release(held.id(), "once more", OTHER)).state())
        .isEqualTo("done");
    assertThat(left()).isEqualTo(20);
  }

  @Test
  void a_release_whose_service_ended_is_carried_out_by_another_one() {
    environment.load(everybody);
    environment.load(without(everybody, 40));
    var held = held();
    environment.queue.die();
    var work = environment.held.release(held.id(), "the ferry was sold", OTHER);
    environment.sql.update("update job set state = 'running', attempts = 1 where id = ?", work);
    assertThat(environment.held.show(held.id(), TestEnvironment.ISA).state()).isEqualTo("released");
    environment.queue.takeUp(work);
    assertThat(environment.ended(work).state()).isEqualTo("done");
    assertThat(left()).isEqualTo(20);
  }

  @Test
  void a_release_that_kills_every_service_is_held_again() {
    environment.load(everybody);
    environment.load(without(everybody, 40));
    var held = held();
    environment.queue.die();
    var work = environment.held.release(held.id(), "the ferry was sold", OTHER);
    environment.sql.update("update job set state = 'running', attempts = 3 where id = ?", work);
    environment.queue.takeUp(work);
    assertThat(environment.ended(work).state()).isEqualTo("failed");
    assertThat(environment.held.show(held.id(), TestEnvironment.ISA).state()).isEqualTo("held");
    assertThat(environment.happened("held:" + held.id())).endsWith("change-held-again");
    assertThat(left()).isZero();
  }

  @Test
  void a_release_that_is_cancelled_is_held_again() {
    environment.load(everybody);
    environment.load(without(everybody, 40));
    var held = held();
    environment.queue.die();
    var work = environment.held.release(held.id(), "the ferry was sold", OTHER);
    environment.jobs.cancel(work, OTHER);
    environment.queue.takeUp(work);
    assertThat(environment.ended(work).state()).isEqualTo("cancelled");
    assertThat(environment.held.show(held.id(), TestEnvironment.ISA).state()).isEqualTo("held");
    assertThat(left()).isZero();
  }

  @Test
  void a_file_that_a_killed_service_left_is_deleted_at_the_next_start() throws IOException {
    var temporary = Path.of(System.getProperty("java.io.tmpdir"));
    var gone = 4_194_305L; // beyond what a process of Linux can be numbered
    var left = Files.writeString(temporary.resolve("glenmoor-work-" + gone + "-1.csv"), "W-1");
    var own = "glenmoor-work-%d-1.csv".formatted(ProcessHandle.current().pid());
    var used = Files.writeString(temporary.resolve(own), "W-1");
    new WorkContents(environment.get(JobMapper.class));
    assertThat(left).doesNotExist();
    assertThat(used).exists();
    Files.delete(used);
  }

  @Test
  void what_was_dropped_is_never_carried_out() {
    environment.load(everybody);
    environment.load(without(everybody, 40));
    var held = held();
    assertThat(environment.held.drop(held.id(), "a cut file", OTHER).state()).isEqualTo("dropped");
    assertThat(left()).isZero();
    assertThat(environment.number("select count(*) from held_part")).isZero();
  }

  @Test
  void a_held_file_is_out_of_date_once_a_newer_one_was_taken() {
    environment.load(everybody);
    environment.load(without(everybody, 40));
    environment.load(everybody);
    assertThatThrownBy(() -> environment.held.release(held().id(), "late", OTHER))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("newer feed");
    assertThat(left()).isZero();
    assertThat(held().state()).isEqualTo("held");
  }

  @Test
  void a_release_is_for_what_was_seen_and_not_for_more() {
    environment.load(without(everybody, 50));
    environment.load(without(everybody, 40));
    var held = held();
    environment.sql.update(
        "update held_change set measured = replace(measured, '\"missing\":10', '\"missing\":8')");
    environment.ended(environment.held.release(held.id(), "fine", OTHER));
    assertThat(left()).isZero();
    assertThat(held().broughtBy()).isEqualTo("rona");
  }

  @Test
  void a_handful_may_always_leave() {
    environment.load(without(everybody, 12));
    environment.load(without(everybody, 7));
    assertThat(left()).isEqualTo(5);
  }

  @Test
  void a_file_of_which_many_rows_cannot_be_used_waits() {
    environment.load(everybody);
    var bad = everybody.clone();
    for (var i = 0; i < 10; i++) {
      bad[i] = bad[i].replace("2020-01-01", "yesterday");
    }
    environment.load(bad);
    assertThat(held().sentence()).contains("10 of 60 people have rows that cannot be used");
  }

  @Test
  void a_file_cut_in_mid_row_ends_nobody_by_absence() {
    environment.load(everybody);
    var cut = new ArrayList<>(List.of(without(everybody, 57)));
    cut.add("W-57,Kai,Dock5");
    var work = environment.load(cut.toArray(String[]::new));
    assertThat(work.result()).contains("its last row breaks off", "\"whole\":false");
    assertThat(left()).isZero();
    assertThat(
            environment.sql.queryForList(
                "select entry from ledger_entry where what = 'feed-loaded'", String.class))
        .as("the ledger tells it plainly")
        .anySatisfy(entry -> assertThat(entry).contains("its last row breaks off"));
  }

  @Test
  void a_row_whose_worker_number_cannot_be_read_makes_absence_prove_nothing() {
    environment.load(everybody);
    for (var worker : List.of("", "W-5\u200b8", "W/58", "W..58", "W;58")) {
      var rows = without(everybody, 59);
      rows[58] = "\"" + worker + "\"" + rows[58].substring(rows[58].indexOf(','));
      var work = environment.load(rows);
      assertThat(work.result()).as(worker).contains("Nobody was counted as missing");
      assertThat(left()).as(worker).isZero();
    }
  }

  @Test
  void the_limits_can_be_set() {
    environment.define("brake: feeds\nmissing: 2 or 50 %\n", false);
    environment.load(everybody);
    environment.load(without(everybody, 57));
    assertThat(held().sentence()).contains("the brake is at 2 or 50 %");
    assertThatThrownBy(() -> environment.define("brake: feeds\nmissing: some\n", false))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("200 or 5 %");
  }

  @Test
  void definitions_that_take_access_from_many_wait_too() {
    environment.load(everybody);
    environment.sent();
    var outcome =
        environment.define(
            TestEnvironment.skerryLine().replace("person.location == \"Westholm\"", "false"), true);
    assertThat(outcome.held()).isPositive();
    assertThat(environment.number("select count(*) from operation where kind = 'remove'")).isZero();
    assertThat(
            environment.catalogues.current().birthrights().stream()
                .map(each -> each.where().text())
                .toList())
        .contains("person.location == \"Westholm\"");
    environment.ended(environment.held.release(outcome.held(), "the shelf is closed", OTHER));
    environment.agenda.sweep();
    assertThat(environment.number("select count(*) from operation where kind = 'remove'"))
        .isEqualTo(COMPANY);
  }

  @Test
  void definitions_that_give_privileged_access_or_conflicts_to_many_wait_as_well() {
    environment.define(
        "entitlement: chartshare/drawings\nname: Slip drawings\ntechnical: Slip drawings\nrisk: critical\n---\nconflict-rule: draw\nrisk: They could redraw what they sail by.\nsides: [chartshare/charts, chartshare/drawings]",
        false);
    environment.load(everybody);
    environment.sent();
    var more =
        "package: start-kit\nname: Start kit\nentitlements: [chartshare/charts, chartshare/drawings]";
    assertThat(
            environment
                .wouldDefine(List.of(new DefinitionFile("x.yaml", more)), false, false)
                .warnings())
        .anyMatch(each -> each.contains("60 of 60 people would gain access"))
        .anyMatch(each -> each.contains("60 of 60 people would gain a privileged entitlement"))
        .anyMatch(each -> each.contains("60 of 60 people would break a conflict rule"));
    var outcome = environment.define(more, false);
    assertThat(outcome.held()).isPositive();
    assertThat(
            environment.number(
                "select count(*) from operation where kind = 'add' and json_value(payload, '$.entitlement') = 'chartshare/drawings'"))
        .isZero();
    environment.ended(environment.held.release(outcome.held(), "everybody draws now", OTHER));
    environment.agenda.sweep();
    assertThat(
            environment.number(
                "select count(*) from operation where kind = 'add' and json_value(payload, '$.entitlement') = 'chartshare/drawings'"))
        .isEqualTo(COMPANY);
  }

  @Test
  void a_load_cannot_let_itself_through_its_own_brake() {
    environment.load(everybody);
    environment.sent();
    var outcome =
        environment.define(
            TestEnvironment.skerryLine().replace("person.location == \"Westholm\"", "false")
                + "\n---\nbrake: definitions\nlosing: 100000 or 100 %\n",
            true);
    assertThat(outcome.held()).isPositive();
  }

  @Test
  void checking_says_beforehand_that_a_brake_would_hold() {
    environment.load(everybody);
    environment.sent();
    var files =
        List.of(
            new DefinitionFile(
                "x.yaml",
                TestEnvironment.skerryLine().replace("person.location == \"Westholm\"", "false")));
    assertThat(environment.wouldDefine(files, true, false).warnings())
        .anyMatch(each -> each.contains("60 of 60 people would lose access"));
    var forecast = environment.forecast(without(everybody, 40));
    assertThat(forecast.path("warnings").toString()).contains("missing from the file");
  }
}
