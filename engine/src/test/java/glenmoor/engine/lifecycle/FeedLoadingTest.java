package glenmoor.engine.lifecycle;

import static glenmoor.engine.TestEnvironment.BO;
import static glenmoor.engine.TestEnvironment.UNA;
import static glenmoor.engine.TestEnvironment.counted;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.entry;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.Mockito.doAnswer;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.spy;
import static org.mockito.Mockito.when;

import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.jobs.WorkProgress;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.springframework.transaction.TransactionSystemException;

/** Files of people, from the first row to what is kept of them. */
class FeedLoadingTest extends EngineTest {
  private static final String AINO = "W-3,Aino,Räsänen,Deck,Westholm,W-1,2022-01-01,,,";

  private List<String> rejects() {
    return environment.sql.queryForList(
        "select concat(line, ' ', column_name, ': ', found) from feed_reject order by feed_id, line, column_name",
        String.class);
  }

  @Test
  void whoever_is_new_joins() {
    assertThat(counted(environment.load(UNA, BO))).containsOnly(entry("joiner", 2));
    assertThat(environment.happened("person:W-2")).startsWith("joiner", "grant-began");
    assertThat(environment.people.show("W-2", TestEnvironment.ISA).manager().worker())
        .isEqualTo("W-1");
  }

  @Test
  void the_same_file_again_is_no_event_and_changes_nothing() {
    environment.load(UNA, BO);
    var before =
        environment.number("select count(*) from ledger_entry where subject like 'person:%'");
    assertThat(counted(environment.load(UNA, BO))).isEmpty();
    assertThat(
            environment.number("select count(*) from ledger_entry where subject like 'person:%'"))
        .isEqualTo(before);
    assertThat(environment.number("select max(revision) from person")).isEqualTo(1);
  }

  @Test
  void other_work_is_a_move_and_another_spelling_a_correction() {
    environment.load(UNA, BO, AINO);
    assertThat(
            counted(
                environment.load(
                    UNA, BO.replace("Shipyard", "Deck"), AINO.replace("Räsänen", "Räisänen"))))
        .containsOnly(entry("mover", 1), entry("correction", 1));
    assertThat(environment.people.show("W-3", TestEnvironment.ISA).person().name())
        .isEqualTo("Aino Räisänen");
    assertThat(
            environment.number(
                "select count(*) from person for system_time all where worker_number = 'W-3'"))
        .as("the spelling before is still on record")
        .isGreaterThan(1);
  }

  @Test
  void whoever_is_missing_has_left_once() {
    environment.load(UNA, BO);
    assertThat(counted(environment.load(UNA))).containsOnly(entry("leaver", 1));
    assertThat(counted(environment.load(UNA))).isEmpty();
    assertThat(environment.people.show("W-2", TestEnvironment.ISA).person().standing())
        .isEqualTo("left");
  }

  @Test
  void whoever_comes_back_joins_again() {
    environment.load(UNA, BO);
    environment.load(UNA);
    environment.at("2027-03-10T06:00:00Z");
    assertThat(counted(environment.load(UNA, BO)).keySet()).hasSize(1);
    assertThat(environment.people.show("W-2", TestEnvironment.ISA).person().standing())
        .isEqualTo("active");
  }

  @Test
  void bad_rows_are_set_aside_and_the_good_ones_go_on() {
    var work =
        environment.load(
            UNA,
            "W-4,Kai,,Deck,Westholm,W-1,soon,,,",
            ",Nobody,,Deck,Westholm,W-1,2020-01-01,,,",
            "W-5,Kai,Dock,Deck,Westholm,W-77,2020-01-01,,,",
            "W-6,Kai,Dock,Deck,Westholm,W-1,2020-01-01,2019-01-01,,",
            "W-1,Una,Again,Deck,Westholm,,2020-01-01,,,",
            "W-7,Kai,Dock",
            BO);
    assertThat(counted(work)).containsOnly(entry("joiner", 2));
    assertThat(rejects())
        .anySatisfy(each -> assertThat(each).startsWith("3 First day: soon"))
        .anySatisfy(each -> assertThat(each).startsWith("4 Worker no"))
        .anySatisfy(each -> assertThat(each).startsWith("5 Reports to: W-77"))
        .anySatisfy(each -> assertThat(each).startsWith("6 "))
        .anySatisfy(each -> assertThat(each).startsWith("7 Worker no: W-1"))
        .anySatisfy(each -> assertThat(each).startsWith("8 "));
  }

  @Test
  void a_ring_of_managers_is_set_aside_after_all_was_read() {
    var work =
        environment.load(
            UNA,
            "W-8,Kai,Dock,Deck,Westholm,W-9,2020-01-01,,,",
            "W-9,Lin,Dock,Deck,Westholm,W-8,2020-01-01,,,",
            BO);
    assertThat(counted(work)).containsOnly(entry("joiner", 2));
    assertThat(rejects()).hasSize(2).allSatisfy(each -> assertThat(each).contains("Reports to"));
    assertThat(environment.number("select count(*) from person")).isEqualTo(2);
  }

  @Test
  void somebody_whose_row_was_set_aside_has_not_left() {
    environment.load(UNA, BO);
    assertThat(counted(environment.load(UNA, BO.replace("2021-05-01", "May")))).isEmpty();
    assertThat(environment.people.show("W-2", TestEnvironment.ISA).person().standing())
        .isEqualTo("active");
  }

  @Test
  void a_broken_file_changes_nothing_and_says_why() {
    environment.load(UNA, BO);
    for (var text :
        List.of(
            "",
            TestEnvironment.HEADING,
            TestEnvironment.HEADING.replace("First day", "Day one") + UNA,
            TestEnvironment.HEADING + "W-1,\"Una,Kerrow,Deck\r\n" + BO)) {
      var work = environment.loadText(text);
      assertThat(work.state()).isEqualTo("refused");
      assertThat(work.sentence()).isNotBlank();
    }
    assertThat(environment.number("select count(*) from event where kind != 'joiner'")).isZero();
    assertThat(environment.number("select count(*) from feed where state = 'refused'"))
        .isEqualTo(4);
    assertThat(environment.number("select count(*) from ledger_entry where what = 'feed-refused'"))
        .isEqualTo(4);
  }

  @Test
  void a_forecast_says_what_loading_does_and_does_nothing() {
    environment.load(UNA, BO);
    var next = new String[] {UNA, AINO, "W-4,Kai,Dock,Shipyard,Westholm,W-1,2027-03-05,,,"};
    var forecast = environment.forecast(next);
    assertThat(environment.number("select count(*) from person")).isEqualTo(2);
    var before = environment.number("select count(*) from operation");
    var loaded = counted(environment.load(next));
    var said = new ArrayList<String>();
    forecast.path("events").properties().forEach(each -> said.add(each.getKey()));
    assertThat(said).containsExactlyInAnyOrderElementsOf(loaded.keySet());
    assertThat(forecast.path("sum").path("operations").asInt())
        .isEqualTo(environment.number("select count(*) from operation") - before)
        .isPositive();
  }

  @Test
  void other_definitions_of_the_source_have_every_row_read_anew() {
    environment.load(UNA, BO);
    environment.define(
        "source: people-office\nworker: Worker no\ncolumns: {Given: given, First day: start}\n",
        false);
    assertThat(counted(environment.load(UNA, BO)).values())
        .allSatisfy(n -> assertThat(n).isEqualTo(2));
    assertThat(environment.people.show("W-1", TestEnvironment.ISA).person().name())
        .isEqualTo("Una");
  }

  @Test
  void a_source_that_names_only_changes_lets_nobody_leave() {
    environment.define(
        TestEnvironment.skerryLine()
            .replace("worker: Worker no", "worker: Worker no\nmode: changes"),
        true);
    environment.load(UNA, BO);
    assertThat(counted(environment.load(AINO))).containsOnly(entry("joiner", 1));
    assertThat(environment.people.show("W-2", TestEnvironment.ISA).person().standing())
        .isEqualTo("active");
  }

  /** A feed as it stands while a service reads it, or after that service died over it. */
  private void reading(long feed, String job) {
    environment.sql.update(
        "insert into job (id, what, state, done, total, sentence, result, started_at, owner) values (?, 'loading', ?, 0, 0, 'started', 'null', '2027-03-01', 'isa')",
        feed,
        job);
    environment.sql.update(
        "insert into feed (id, source, file_name, state, sentence, counts, started_at, loaded_by, work_id, reading_source) values (?, 'people-office', 'march.csv', 'reading', '', '{}', '2027-03-01', 'isa', ?, 'people-office')",
        feed,
        feed);
  }

  private void died(long work) {
    environment.sql.update("update job set state = 'running', attempts = 1 where id = ?", work);
    environment.sql.update(
        "update feed set state = 'reading', reading_source = source where work_id = ?", work);
  }

  @Test
  void a_feed_whose_service_died_is_read_by_another_one() {
    environment.queue.die();
    var work = environment.bring("", "march.csv", TestEnvironment.HEADING + UNA);
    died(work);
    environment.queue.takeUp(work);
    assertThat(environment.ended(work).state()).isEqualTo("done");
    assertThat(counted(environment.ended(work))).containsExactly(entry("joiner", 1));
    assertThat(environment.feeds.list(Long.MAX_VALUE, 9, TestEnvironment.ISA))
        .singleElement()
        .satisfies(feed -> assertThat(feed.state()).isEqualTo("loaded"));
    assertThat(environment.number("select count(*) from event")).isOne();
    assertThat(environment.number("select count(*) from job_part")).isZero();
  }

  @Test
  void a_feed_that_was_kept_before_its_service_died_says_what_it_came_to_and_is_not_kept_twice() {
    environment.queue.die();
    var work = environment.bring("", "march.csv", TestEnvironment.HEADING + UNA);
    environment.queue.takeUp(work);
    environment.ended(work);
    // As if the service had died between keeping it and saying so.
    environment.sql.update("update job set state = 'running', ended_at = null where id = ?", work);
    environment.queue.takeUp(work);
    assertThat(counted(environment.ended(work))).containsExactly(entry("joiner", 1));
    assertThat(environment.number("select count(*) from event")).isOne();
    assertThat(environment.number("select count(*) from feed")).isOne();
  }

  @Test
  void a_feed_that_kills_every_service_is_given_up_and_the_next_one_is_taken() {
    environment.queue.die();
    var work = environment.bring("", "march.csv", TestEnvironment.HEADING + BO);
    died(work);
    environment.sql.update("update job set attempts = 3");
    environment.queue.takeUp(work);
    assertThat(environment.ended(work).state()).isEqualTo("failed");
    assertThat(environment.feeds.list(Long.MAX_VALUE, 9, TestEnvironment.ISA))
        .singleElement()
        .satisfies(feed -> assertThat(feed.state()).isEqualTo("refused"));
    assertThat(counted(environment.load(UNA))).containsExactly(entry("joiner", 1));
  }

  @Test
  void a_feed_that_is_taken_up_late_is_refused_once_a_newer_one_was_taken() {
    environment.load(UNA, BO);
    environment.queue.die();
    var old = environment.bring("", "old.csv", TestEnvironment.HEADING + UNA + "\r\n" + BO);
    environment.sql.update("update feed set state = 'held' where work_id = ?", old);
    environment.queue.takeUp(0);
    environment.load(UNA.replace("Deck", "Shipyard"), BO);
    environment.sql.update("update feed set state = 'waiting' where work_id = ?", old);
    environment.queue.takeUp(old);
    assertThat(environment.ended(old).state()).isEqualTo("refused");
    assertThat(environment.ended(old).sentence()).contains("A newer feed of");
    assertThat(environment.people.show("W-1", TestEnvironment.ISA).person().facts())
        .containsEntry("department", "Shipyard");
  }

  @Test
  void feeds_of_a_source_are_taken_in_the_order_in_which_they_were_brought() {
    environment.queue.die();
    var first = environment.bring("", "first.csv", TestEnvironment.HEADING + UNA);
    var second =
        environment.bring(
            "", "second.csv", TestEnvironment.HEADING + UNA.replace("Deck", "Shipyard"));
    environment.queue.takeUp(second);
    TestEnvironment.eventually(() ->
        environment.jobs.of(second, TestEnvironment.ISA).sentence().contains("this one waits"));
    assertThat(environment.number("select count(*) from person")).isZero();
    environment.queue.takeUp(first);
    assertThat(counted(environment.ended(first))).containsExactly(entry("joiner", 1));
    assertThat(counted(environment.ended(second))).containsExactly(entry("mover", 1));
  }

  @Test
  void the_very_file_that_was_forecast_can_be_loaded_by_whoever_forecast_it() throws IOException {
    var text = TestEnvironment.HEADING + UNA;
    var bytes = new ByteArrayInputStream(text.getBytes(StandardCharsets.UTF_8));
    var forecast = environment.feeds.forecast("", "march.csv", bytes, TestEnvironment.ISA);
    environment.ended(forecast);
    assertThatThrownBy(() -> environment.feeds.loadForecasted(forecast, TestEnvironment.RONA))
        .hasMessageContaining("You have no work");
    var work = environment.feeds.loadForecasted(forecast, TestEnvironment.ISA);
    assertThat(counted(environment.ended(work))).containsExactly(entry("joiner", 1));
    assertThat(environment.feeds.list(Long.MAX_VALUE, 9, TestEnvironment.ISA).getFirst().fileName())
        .isEqualTo("march.csv");
    environment.sql.update("delete from job_part");
    assertThatThrownBy(() -> environment.feeds.loadForecasted(forecast, TestEnvironment.ISA))
        .hasMessageContaining("bring it again");
    assertThatThrownBy(() -> environment.feeds.loadForecasted(work, TestEnvironment.ISA))
        .as("a load is no forecast")
        .hasMessageContaining("You have no work");
  }

  @Test
  void a_feed_that_waits_can_be_cancelled_and_changes_nothing() {
    environment.queue.die();
    var work = environment.bring("", "march.csv", TestEnvironment.HEADING + UNA);
    environment.jobs.cancel(work, TestEnvironment.ISA);
    environment.queue.takeUp(work);
    assertThat(environment.ended(work).state()).isEqualTo("cancelled");
    assertThat(environment.number("select count(*) from person")).isZero();
    assertThat(environment.number("select count(*) from job_part")).isZero();
    assertThat(environment.feeds.list(Long.MAX_VALUE, 9, TestEnvironment.ISA).getFirst().sentence())
        .contains("cancelled");
  }

  @Test
  void a_feed_whose_work_is_over_is_closed() {
    reading(71, "failed");
    environment.record.closeDead();
    assertThat(environment.feeds.show(71, TestEnvironment.ISA).state()).isEqualTo("refused");
    assertThat(environment.feeds.show(71, TestEnvironment.ISA).sentence())
        .contains("Load it again");
    assertThat(environment.happened("feed:71")).containsExactly("feed-refused");
    environment.record.closeDead();
    assertThat(environment.happened("feed:71")).hasSize(1);
  }

  @Test
  void a_feed_that_is_still_being_read_is_not_closed_and_the_next_one_waits_for_it() {
    reading(74, "running");
    environment.record.closeDead();
    assertThat(environment.feeds.show(74, TestEnvironment.ISA).state()).isEqualTo("reading");
    var id = environment.bring("", "next.csv", TestEnvironment.HEADING + UNA);
    TestEnvironment.eventually(
        () -> environment.jobs.of(id, TestEnvironment.ISA).sentence().contains("this one waits"));
    assertThat(environment.number("select count(*) from person")).isZero();
    environment.sql.update("update feed set state = 'loaded', reading_source = null where id = 74");
    assertThat(environment.ended(id).state()).isEqualTo("done");
    assertThat(environment.number("select count(*) from person")).isEqualTo(1);
  }

  @Test
  void the_next_feed_closes_one_whose_work_is_over_and_is_taken() {
    reading(73, "failed");
    var work = environment.load(UNA);
    assertThat(work.state()).as(work.sentence()).isEqualTo("done");
    assertThat(environment.feeds.show(73, TestEnvironment.ISA).state()).isEqualTo("refused");
    assertThat(environment.number("select count(*) from person")).isEqualTo(1);
  }

  @Test
  void a_commit_whose_answer_was_lost_is_looked_up_before_anything_is_said() {
    var broken = spy(environment.transactions);
    doAnswer(
            call -> {
              call.callRealMethod();
              throw new TransactionSystemException("the connection broke");
            })
        .when(broken)
        .run(any(Runnable.class));
    var loading = environment.loadingBy(broken);
    var delivery =
        Delivery.of(
            environment.catalogues.current().sources().values().iterator().next(),
            "rows.csv",
            TestEnvironment.file(TestEnvironment.HEADING + TestEnvironment.UNA),
            TestEnvironment.ISA);
    environment.sql.update(
        "insert into job (id, what, state, done, total, sentence, result, started_at, owner) values (76, 'x', 'running', 0, 0, '', 'null', now(), 'isa')");
    var progress = mock(WorkProgress.class);
    when(progress.work()).thenReturn(76L);
    var loaded = loading.load(delivery, progress);
    assertThat(loaded.sentence()).contains("1 row read");
    assertThat(environment.number("select count(*) from person")).isOne();
  }

  @Test
  void an_unknown_source_is_refused_with_those_there_are() {
    assertThatThrownBy(() -> environment.bring("payroll", "x.csv", "x"))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("people-office");
  }
}
