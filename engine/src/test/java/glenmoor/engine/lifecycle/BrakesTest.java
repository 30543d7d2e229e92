package glenmoor.engine.lifecycle;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.engine.House;
import glenmoor.engine.InTheHouse;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.DefinitionDesk;
import glenmoor.store.brakes.HeldMapper.HeldRow;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

/** Feeds and definitions that would end too much wait for somebody else. */
class BrakesTest extends InTheHouse {
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

  private HeldRow held() {
    return house.held.list("held", Long.MAX_VALUE, 9, House.ISA).getFirst();
  }

  private int left() {
    return house.number("select count(*) from person where absent_since is not null");
  }

  @Test
  void a_file_that_lost_a_third_of_the_company_waits_whole_and_says_so() {
    house.load(everybody);
    house.sent();
    var work = house.load(without(everybody, 40));
    assertThat(work.result()).contains("\"whole\":false");
    assertThat(left()).isZero();
    var held = held();
    assertThat(held.sentence())
        .contains("20 of 60 people are missing from the file", "would lose access");
    assertThat(house.held.show(held.id(), House.ISA).forecast()).contains("\"losing\":20");
    assertThat(house.feeds.list(Long.MAX_VALUE, 1, House.ISA).getFirst().state()).isEqualTo("held");
    assertThat(house.happened("held:" + held.id())).containsExactly("change-held");
  }

  @Test
  void only_somebody_else_releases_it_and_then_it_is_carried_out() {
    house.load(everybody);
    house.load(without(everybody, 40));
    var held = held();
    assertThatThrownBy(() -> house.held.release(held.id(), "all right", House.ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("somebody else");
    assertThatThrownBy(() -> house.held.release(held.id(), " ", OTHER)).isInstanceOf(Refused.class);
    var done = house.ended(house.held.release(held.id(), "the ferry was sold", OTHER));
    assertThat(done.state()).as(done.sentence()).isEqualTo("done");
    assertThat(left()).isEqualTo(20);
    assertThat(house.happened("held:" + held.id()))
        .containsExactly("change-held", "change-released");
    assertThatThrownBy(() -> house.held.release(held.id(), "once more", OTHER))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("already");
    assertThat(house.number("select count(*) from held_part")).isZero();
  }

  @Test
  void a_release_that_could_not_be_carried_out_is_held_again() {
    house.load(everybody);
    house.load(without(everybody, 40));
    var held = held();
    // Nothing can be kept of a feed while its rows cannot be.
    house.sql.execute("rename table ledger_entry to away");
    try {
      assertThatThrownBy(() -> house.held.release(held.id(), "the ferry was sold", OTHER));
      assertThat(held().state()).isEqualTo("held");
      house.sql.execute("rename table away to ledger_entry, event to away");
      var work = house.ended(house.held.release(held.id(), "the ferry was sold", OTHER));
      assertThat(work.state()).isEqualTo("refused");
    } finally {
      house.sql.execute("rename table away to event");
    }
    assertThat(left()).isZero();
    assertThat(held().id()).isEqualTo(held.id());
    assertThat(house.happened("held:" + held.id()))
        .containsExactly("change-held", "change-released", "change-held-again");
    assertThat(house.ended(house.held.release(held.id(), "once more", OTHER)).state())
        .isEqualTo("done");
    assertThat(left()).isEqualTo(20);
  }

  @Test
  void a_release_whose_service_ended_is_held_again_but_not_one_that_goes_on() {
    house.load(everybody);
    house.load(without(everybody, 40));
    var held = held();
    house.sql.update(
        "update held_change set state = 'released', decided_by = 'rona', work_id = 81, released_at = sysdate(6) - interval 1 minute");
    house.sql.update(
        "insert into progress values (81, 'x', 'running', 0, 0, '', 'null', '2027-03-01', null, sysdate(6), 'isa')");
    house.held.holdAgain();
    assertThat(house.held.show(held.id(), House.ISA).state()).isEqualTo("released");
    house.sql.update("update progress set alive_at = sysdate(6) - interval 1 minute");
    house.held.holdAgain();
    assertThat(house.held.show(held.id(), House.ISA).state()).isEqualTo("held");
    assertThat(house.happened("held:" + held.id())).endsWith("change-held-again");
    house.sql.update("delete from held_part");
    house.sql.update(
        "update held_change set state = 'released', released_at = sysdate(6) - interval 1 minute");
    house.held.holdAgain();
    assertThat(house.held.show(held.id(), House.ISA).state())
        .as("carried out, so never again")
        .isEqualTo("released");
  }

  @Test
  void a_file_that_a_killed_service_left_is_deleted_at_the_next_start() throws IOException {
    var temporary = Path.of(System.getProperty("java.io.tmpdir"));
    var gone = 4_194_305L; // beyond what a process of Linux can be numbered
    var left = Files.writeString(temporary.resolve("glenmoor-released-" + gone + "-1.csv"), "W-1");
    var own = "glenmoor-released-%d-1.csv".formatted(ProcessHandle.current().pid());
    var used = Files.writeString(temporary.resolve(own), "W-1");
    new HeldFeeds(house.held, house.record, house.catalogues, (delivery, teller) -> "");
    assertThat(left).doesNotExist();
    assertThat(used).exists();
    Files.delete(used);
  }

  @Test
  void what_was_dropped_is_never_carried_out() {
    house.load(everybody);
    house.load(without(everybody, 40));
    var held = held();
    assertThat(house.held.drop(held.id(), "a cut file", OTHER).state()).isEqualTo("dropped");
    assertThat(left()).isZero();
    assertThat(house.number("select count(*) from held_part")).isZero();
  }

  @Test
  void a_held_file_is_out_of_date_once_a_newer_one_was_taken() {
    house.load(everybody);
    house.load(without(everybody, 40));
    house.load(everybody);
    assertThatThrownBy(() -> house.held.release(held().id(), "late", OTHER))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("newer feed");
    assertThat(left()).isZero();
    assertThat(held().state()).isEqualTo("held");
  }

  @Test
  void a_release_is_for_what_was_seen_and_not_for_more() {
    house.load(without(everybody, 50));
    house.load(without(everybody, 40));
    var held = held();
    house.sql.update(
        "update held_change set measured = replace(measured, '\"missing\":10', '\"missing\":8')");
    house.ended(house.held.release(held.id(), "fine", OTHER));
    assertThat(left()).isZero();
    assertThat(held().broughtBy()).isEqualTo("rona");
  }

  @Test
  void a_handful_may_always_leave() {
    house.load(without(everybody, 12));
    house.load(without(everybody, 7));
    assertThat(left()).isEqualTo(5);
  }

  @Test
  void a_file_of_which_many_rows_cannot_be_used_waits() {
    house.load(everybody);
    var bad = everybody.clone();
    for (var i = 0; i < 10; i++) {
      bad[i] = bad[i].replace("2020-01-01", "yesterday");
    }
    house.load(bad);
    assertThat(held().sentence()).contains("10 of 60 people have rows that cannot be used");
  }

  @Test
  void a_file_cut_in_mid_row_ends_nobody_by_absence() {
    house.load(everybody);
    var cut = new ArrayList<>(List.of(without(everybody, 57)));
    cut.add("W-57,Kai,Dock5");
    var work = house.load(cut.toArray(String[]::new));
    assertThat(work.result()).contains("its last row breaks off", "\"whole\":false");
    assertThat(left()).isZero();
    assertThat(
            house.sql.queryForList(
                "select entry from ledger_entry where what = 'feed-loaded'", String.class))
        .as("the ledger tells it plainly")
        .anySatisfy(entry -> assertThat(entry).contains("its last row breaks off"));
  }

  @Test
  void a_row_whose_worker_number_cannot_be_read_makes_absence_prove_nothing() {
    house.load(everybody);
    for (var worker : List.of("", "W-5\u200b8", "W/58", "W..58", "W;58")) {
      var rows = without(everybody, 59);
      rows[58] = "\"" + worker + "\"" + rows[58].substring(rows[58].indexOf(','));
      var work = house.load(rows);
      assertThat(work.result()).as(worker).contains("Nobody was counted as missing");
      assertThat(left()).as(worker).isZero();
    }
  }

  @Test
  void the_limits_can_be_set() {
    house.define("brake: feeds\nmissing: 2 or 50 %\n", false);
    house.load(everybody);
    house.load(without(everybody, 57));
    assertThat(held().sentence()).contains("the brake is at 2 or 50 %");
    assertThatThrownBy(() -> house.define("brake: feeds\nmissing: some\n", false))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("200 or 5 %");
  }

  @Test
  void definitions_that_take_access_from_many_wait_too() {
    house.load(everybody);
    house.sent();
    var outcome =
        house.define(House.skerryLine().replace("person.location == \"Westholm\"", "false"), true);
    assertThat(outcome.held()).isPositive();
    assertThat(house.number("select count(*) from operation where kind = 'remove'")).isZero();
    assertThat(
            house.catalogues.current().birthrights().stream()
                .map(each -> each.where().text())
                .toList())
        .contains("person.location == \"Westholm\"");
    house.ended(house.held.release(outcome.held(), "the shelf is closed", OTHER));
    house.agenda.sweep();
    assertThat(house.number("select count(*) from operation where kind = 'remove'"))
        .isEqualTo(COMPANY);
  }

  @Test
  void a_load_cannot_let_itself_through_its_own_brake() {
    house.load(everybody);
    house.sent();
    var outcome =
        house.define(
            House.skerryLine().replace("person.location == \"Westholm\"", "false")
                + "\n---\nbrake: definitions\nlosing: 100000 or 100 %\n",
            true);
    assertThat(outcome.held()).isPositive();
  }

  @Test
  void checking_says_beforehand_that_a_brake_would_hold() {
    house.load(everybody);
    house.sent();
    var files =
        List.of(
            new DefinitionDesk.File(
                "x.yaml", House.skerryLine().replace("person.location == \"Westholm\"", "false")));
    assertThat(house.definitions.forecast(files, true, false, House.ISA).warnings())
        .anyMatch(each -> each.contains("60 of 60 people would lose access"));
    var forecast = house.forecast(without(everybody, 40));
    assertThat(forecast.path("warnings").toString()).contains("missing from the file");
  }
}
