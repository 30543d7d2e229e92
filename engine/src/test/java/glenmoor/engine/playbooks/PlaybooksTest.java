package glenmoor.engine.playbooks;

import static glenmoor.engine.TestEnvironment.ISA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.core.playbooks.RunView;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.letters.MessageService;
import glenmoor.engine.lifecycle.CutOffService;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Playbooks as they are played, on the real database, with a real mail server at the other end. */
class PlaybooksTest extends EngineTest {
  private static final String MESSAGES =
      """
      letters: skerry-line
      from: Skerry Line <glenmoor@skerryline.example>
      address: fold(person.family) + "@skerryline.example"
      ---
      channel: help-desk
      name: Help desk
      kind: tickets
      url: ${DESK_URL}
      secret-file: token
      ---
      letter: welcome
      subject: Welcome aboard, {{person.given}}
      body: |
        Dear {{recipient.name}},

        your first day is **{{day}}**, and {{manager.name}} is expecting you.
      ---
      letter: first-day-passcode
      subject: A passcode for {{person.name}}
      body: |
        Dear {{recipient.name}}, the passcode of {{person.name}} is `{{passcode}}`.
      ---
      """;
  private static final String FIRST_DAY =
      """
      playbook: first-day
      on: joiner
      late: 7 days
      steps:
      - account: chartshare
        is: ready
        at: 7 days before
      - passcode: chartshare
        to: manager
        letter: first-day-passcode
        at: 1 day before, 18:00
      - account: chartshare
        is: enabled
        at: on the day
      - letter: welcome
      """;
  private static final String LEAVING =
      """
      playbook: leaving
      on: leaver
      late: 60 days
      steps:
      - ticket: open
        in: help-desk
        text: "{{person.name}} leaves on {{day}}"
      - account: chartshare
        is: disabled
      - hand-over: manager
      - ask: Shall the account of {{person.name}} be deleted?
        of: manager
        at: 20 days after
      - delete: chartshare
      - account: chartshare
        is: gone
      - ticket: close
        in: help-desk
        text: Gone
      """;
  private static final String NEW = "W-3,Ottilie,Voe,Deck,Westholm,W-1,%s,,,";
  private static final Actor UNA = person("una", "W-1");

  private Playing playing;
  private RunService runs;
  private RunViews views;
  private AskService asks;

  private static Actor person(String login, String worker) {
    return new Actor(login, login, worker, List.of());
  }

  @BeforeEach
  void wired() {
    playing = environment.get(Playing.class);
    runs = environment.get(RunService.class);
    views = environment.get(RunViews.class);
    asks = environment.get(AskService.class);
  }

  private void define(String... playbooks) {
    environment.define(MESSAGES + String.join("---\n", playbooks), false);
  }

  private RunView only(String playbook) {
    var all = views.list(playbook, null, null, Long.MAX_VALUE, 10, ISA);
    assertThat(all).hasSize(1);
    return all.getFirst();
  }

  private List<String> subjects() {
    return environment.post.letters().stream().map(each -> each.subject()).toList();
  }

  @Test
  void a_joiner_has_an_account_made_ready_a_passcode_the_evening_before_and_a_letter_on_the_day() {
    define(FIRST_DAY);
    environment.load(TestEnvironment.UNA, NEW.formatted("2027-03-20"));
    environment.at("2027-03-12T12:00:00Z");
    assertThat(environment.user("W-3").isMissingNode()).isTrue();
    environment.at("2027-03-13T12:00:00Z");
    assertThat(environment.user("W-3").path("active").asBoolean()).isFalse();
    assertThat(only("first-day").step()).isEqualTo(1);
    environment.at("2027-03-19T17:00:00Z");
    assertThat(subjects()).isEmpty();
    environment.at("2027-03-19T19:00:00Z");
    assertThat(subjects()).containsExactly("A passcode for Ottilie Voe");
    var told = environment.post.letters().getFirst();
    assertThat(told.to()).isEqualTo("kerrow@skerryline.example");
    assertThat(told.text()).matches("(?s).*`[a-z2-9]{4}(-[a-z2-9]{4}){3}`.*");
    environment.at("2027-03-20T09:00:00Z");
    assertThat(environment.user("W-3").path("active").asBoolean()).isTrue();
    assertThat(subjects()).containsExactly("A passcode for Ottilie Voe", "Welcome aboard, Ottilie");
    var welcome = environment.post.letters().getLast();
    assertThat(welcome.to()).isEqualTo("voe@skerryline.example");
    assertThat(welcome.text()).contains("your first day is **20 March 2027**, and Una Kerrow is");
    assertThat(welcome.html()).contains("<strong>20 March 2027</strong>");
    assertThat(only("first-day").state()).isEqualTo("done");
  }

  /** The account is to be ready at the moment at which the step begins to look, and never is. */
  @Test
  void an_account_of_somebody_known_for_long_is_waited_for_from_when_it_is_to_be_there() {
    define(FIRST_DAY);
    environment.load(TestEnvironment.UNA, NEW.formatted("2027-04-20"));
    environment.at("2027-04-12T12:00:00Z");
    environment.failureMode("{\"mode\":\"down\"}");
    environment.at("2027-04-13T12:00:00Z");
    assertThat(only("first-day").state()).as(only("first-day").reason()).isEqualTo("open");
    assertThat(only("first-day").step()).isZero();
    environment.failureMode("{\"mode\":\"well\"}");
    environment.at("2027-04-14T12:00:00Z");
    assertThat(only("first-day").step()).isEqualTo(1);
  }

  @Test
  void an_account_that_is_asked_for_before_it_is_made_is_waited_for() {
    define(FIRST_DAY.replace("7 days before", "40 days before"));
    environment.load(TestEnvironment.UNA, NEW.formatted("2027-04-20"));
    environment.at("2027-04-12T12:00:00Z");
    assertThat(only("first-day").state()).as(only("first-day").reason()).isEqualTo("open");
    assertThat(only("first-day").step()).isZero();
    environment.at("2027-04-13T12:00:00Z");
    assertThat(only("first-day").step()).isEqualTo(1);
  }

  @Test
  void whoever_is_to_have_no_account_is_not_waited_for_longer_than_a_day_after_it_would_be_made() {
    define(
        FIRST_DAY.replace("7 days before", "40 days before"),
        "birthright: everyone\npackage: start-kit\nwhere: person.family != 'Voe'\n");
    environment.load(
        TestEnvironment.UNA, NEW.formatted("2027-04-20").replace("Westholm", "Hallow Quay"));
    environment.at("2027-04-13T12:00:00Z");
    assertThat(only("first-day").step()).isZero();
    environment.at("2027-04-14T12:00:00Z");
    assertThat(only("first-day").step()).isPositive();
  }

  @Test
  void days_of_waiting_are_counted_from_when_the_waiting_begins() {
    define(
        """
        playbook: settled-in
        on: joiner
        steps:
        - wait: 3 days
        - letter: welcome
        - wait: 2 days
          at: 10 days after
        - letter: welcome
        """);
    environment.load(TestEnvironment.UNA, NEW.formatted("2027-03-20"));
    environment.at("2027-03-22T12:00:00Z");
    assertThat(subjects()).isEmpty();
    environment.at("2027-03-23T12:00:00Z");
    assertThat(subjects()).hasSize(1);
    environment.at("2027-03-31T12:00:00Z");
    assertThat(subjects()).hasSize(1);
    environment.at("2027-04-01T12:00:00Z");
    assertThat(subjects()).hasSize(2);
  }

  @Test
  void whoever_comes_back_is_no_joiner_on_the_day_they_come() {
    define(FIRST_DAY, FIRST_DAY.replace("first-day\non: joiner", "back-again\non: rehire"));
    environment.load(TestEnvironment.UNA, NEW.formatted("2027-03-02"));
    environment.at("2027-03-03T09:00:00Z");
    environment.load(
        TestEnvironment.UNA, "W-3,Ottilie,Voe,Deck,Westholm,W-1,2027-03-02,2027-03-10,,");
    environment.at("2027-03-12T09:00:00Z");
    environment.load(TestEnvironment.UNA, NEW.formatted("2027-04-20"));
    environment.at("2027-04-13T12:00:00Z");
    environment.at("2027-04-19T19:00:00Z");
    environment.at("2027-04-20T09:00:00Z");
    assertThat(only("first-day").day()).hasToString("2027-03-02");
    assertThat(only("back-again").state()).isEqualTo("done");
    assertThat(only("back-again").day()).hasToString("2027-04-20");
  }

  @Test
  void a_passcode_is_told_once_and_stands_nowhere_else() {
    define(FIRST_DAY);
    environment.load(TestEnvironment.UNA, NEW.formatted("2027-03-02"));
    environment.at("2027-03-02T09:00:00Z");
    var text = environment.post.letters().getFirst().text();
    var passcode = text.replaceAll("(?s).*`([a-z2-9-]{19})`.*", "$1");
    assertThat(passcode).hasSize(19);
    assertThat(environment.number("select count(*) from message where sealed != ''")).isZero();
    for (var table : List.of("message", "ledger_entry", "operation", "playbook_step")) {
      assertThat(environment.sql.queryForList("select * from " + table).toString())
          .as(table)
          .doesNotContain(passcode);
    }
    var shown = environment.get(MessageService.class).list("W-3", null, Long.MAX_VALUE, 10, ISA);
    assertThat(shown).extracting(each -> each.body()).anyMatch(body -> body.contains("`••••`"));
  }

  @Test
  void whoever_is_there_already_when_the_first_feed_comes_is_not_welcomed() {
    define(FIRST_DAY);
    environment.load(TestEnvironment.UNA, TestEnvironment.BO);
    environment.sent();
    environment.played();
    assertThat(views.list(null, null, null, Long.MAX_VALUE, 10, ISA)).isEmpty();
    assertThat(environment.post.letters()).isEmpty();
  }

  @Test
  void what_happened_before_there_were_playbooks_begins_none_but_days_that_come_do() {
    environment.load(TestEnvironment.UNA, NEW.formatted("2027-03-01"));
    environment.sent();
    define(FIRST_DAY);
    environment.played();
    assertThat(views.list("first-day", "W-1", null, Long.MAX_VALUE, 10, ISA)).isEmpty();
    // A day that still comes is another thing: it is looked for, as for a contract's end.
    assertThat(only("first-day").day()).hasToString("2027-03-01");
    assertThat(only("first-day").worker()).isEqualTo("W-3");
  }

  @Test
  void a_start_that_moves_moves_what_was_not_done_yet() {
    define(FIRST_DAY);
    environment.load(TestEnvironment.UNA, NEW.formatted("2027-03-20"));
    environment.at("2027-03-14T12:00:00Z");
    environment.load(TestEnvironment.UNA, NEW.formatted("2027-04-10"));
    environment.at("2027-03-21T12:00:00Z");
    assertThat(subjects()).isEmpty();
    assertThat(only("first-day").day()).hasToString("2027-04-10");
    environment.at("2027-04-10T12:00:00Z");
    assertThat(subjects()).containsExactly("A passcode for Ottilie Voe", "Welcome aboard, Ottilie");
    assertThat(environment.post.letters().getLast().text()).contains("10 April 2027");
  }

  @Test
  void whoever_never_comes_is_welcomed_by_nobody() {
    define(FIRST_DAY);
    environment.load(TestEnvironment.UNA, NEW.formatted("2027-03-20"));
    environment.at("2027-03-14T12:00:00Z");
    environment.load(TestEnvironment.UNA);
    environment.at("2027-03-21T12:00:00Z");
    assertThat(only("first-day").state()).isEqualTo("ended");
    assertThat(only("first-day").reason()).contains("have left");
    assertThat(environment.post.letters()).isEmpty();
  }

  @Test
  void a_leaver_is_asked_about_before_anything_is_deleted() {
    define(LEAVING);
    keepAfterHold();
    environment.load(TestEnvironment.UNA, NEW.formatted("2026-01-01"));
    environment.sent();
    environment.load(
        TestEnvironment.UNA, "W-3,Ottilie,Voe,Deck,Westholm,W-1,2026-01-01,2027-03-04,,");
    environment.at("2027-03-05T12:00:00Z");
    assertThat(environment.desk.heard()).hasSize(1);
    assertThat(environment.desk.heard().getFirst().path("data").path("text").asText())
        .isEqualTo("Ottilie Voe leaves on 5 March 2027");
    environment.at("2027-03-26T12:00:00Z");
    assertThat(environment.user("W-3").path("active").asBoolean()).isFalse();
    var open = asks.open(false, Long.MAX_VALUE, 10, UNA);
    assertThat(open)
        .extracting(each -> each.question())
        .containsExactly("Shall the account of Ottilie Voe be deleted?");
    for (var other :
        List.of(person("bo", "W-2"), person("ottilie", "W-3"), person("nobody", null))) {
      assertThat(asks.open(true, Long.MAX_VALUE, 10, other)).isEmpty();
      assertThatThrownBy(() -> asks.answer(open.getFirst().id(), true, "", other))
          .isInstanceOf(Refused.class)
          .hasMessageContaining("no question");
    }
    asks.answer(open.getFirst().id(), true, "", UNA);
    environment.at("2027-03-26T13:00:00Z");
    assertThat(environment.user("W-3").isMissingNode()).isTrue();
    assertThat(only("leaving").state()).isEqualTo("done");
    assertThat(environment.desk.heard()).hasSize(2);
    assertThat(environment.desk.heard().getLast().path("data").path("ticket").asText())
        .isEqualTo("HD-0001");
  }

  private void keepAfterHold() {
    environment.define(
        TestEnvironment.skerryLine().replace("after-hold: delete", "after-hold: keep"), false);
  }

  @Test
  void a_no_keeps_the_account() {
    define(LEAVING);
    keepAfterHold();
    environment.load(TestEnvironment.UNA, NEW.formatted("2026-01-01"));
    environment.sent();
    environment.load(
        TestEnvironment.UNA, "W-3,Ottilie,Voe,Deck,Westholm,W-1,2026-01-01,2027-03-04,,");
    environment.at("2027-03-26T12:00:00Z");
    var ask = asks.open(false, Long.MAX_VALUE, 10, UNA).getFirst();
    assertThatThrownBy(() -> asks.answer(ask.id(), false, " ", UNA)).isInstanceOf(Refused.class);
    asks.answer(ask.id(), false, "her log books are in it", UNA);
    environment.at("2027-06-26T12:00:00Z");
    assertThat(only("leaving").state()).isEqualTo("ended");
    assertThat(only("leaving").reason()).isEqualTo("una said no: her log books are in it");
    assertThat(environment.user("W-3").path("active").asBoolean()).isFalse();
    assertThat(environment.user("W-3").isMissingNode()).isFalse();
  }

  @Test
  void whoever_comes_back_is_not_deleted() {
    define(LEAVING);
    keepAfterHold();
    environment.load(TestEnvironment.UNA, NEW.formatted("2026-01-01"));
    environment.sent();
    environment.load(TestEnvironment.UNA);
    environment.at("2027-03-22T12:00:00Z");
    var ask = asks.open(false, Long.MAX_VALUE, 10, UNA).getFirst();
    asks.answer(ask.id(), true, "", UNA);
    environment.load(TestEnvironment.UNA, NEW.formatted("2026-01-01"));
    environment.at("2027-03-22T13:00:00Z");
    environment.at("2027-06-22T13:00:00Z");
    assertThat(only("leaving").state()).isEqualTo("ended");
    assertThat(environment.user("W-3").path("active").asBoolean()).isTrue();
    assertThat(asks.open(true, Long.MAX_VALUE, 10, ISA)).isEmpty();
    // Who leaves again later is not deleted by what was said the first time.
    environment.load(TestEnvironment.UNA);
    environment.at("2027-06-23T13:00:00Z");
    assertThat(environment.user("W-3").path("active").asBoolean()).isFalse();
    assertThat(environment.user("W-3").isMissingNode()).isFalse();
    assertThat(views.list("leaving", null, null, Long.MAX_VALUE, 10, ISA))
        .extracting(RunView::state)
        .containsExactly("open", "ended");
  }

  @Test
  void a_contract_that_was_always_to_end_is_played_for_when_its_end_comes() {
    define(LEAVING);
    environment.load(
        TestEnvironment.UNA, "W-3,Ottilie,Voe,Deck,Westholm,W-1,2026-01-01,2027-03-20,,");
    environment.at("2027-03-19T12:00:00Z");
    assertThat(environment.desk.heard()).isEmpty();
    environment.at("2027-03-21T12:00:00Z");
    assertThat(environment.desk.heard()).hasSize(1);
    assertThat(only("leaving").day()).hasToString("2027-03-21");
  }

  @Test
  void a_last_day_that_is_corrected_afterwards_is_no_second_leaving() {
    define(LEAVING);
    environment.load(TestEnvironment.UNA, NEW.formatted("2026-01-01"));
    environment.sent();
    for (var last : List.of("04", "03", "02")) {
      environment.load(
          TestEnvironment.UNA,
          "W-3,Ottilie,Voe,Deck,Westholm,W-1,2026-01-01,2027-03-%s,,".formatted(last));
      environment.at("2027-03-%dT12:00:00Z".formatted(20 - Integer.parseInt(last)));
    }
    assertThat(environment.desk.heard()).hasSize(1);
    only("leaving");
  }

  @Test
  void who_is_cut_off_now_and_left_by_their_source_later_is_played_for_once() {
    define(LEAVING);
    environment.load(TestEnvironment.UNA, NEW.formatted("2026-01-01"));
    environment.sent();
    environment.get(CutOffService.class).cutOff("W-3", "asked for by the harbour", ISA);
    environment.played();
    environment.load(TestEnvironment.UNA);
    environment.at("2027-03-04T12:00:00Z");
    only("leaving");
    assertThat(environment.desk.heard()).hasSize(1);
  }

  @Test
  void a_desk_that_is_down_is_told_later_and_one_that_refuses_stops_the_run() {
    define(LEAVING);
    environment.load(TestEnvironment.UNA, NEW.formatted("2026-01-01"));
    environment.sent();
    environment.desk.behave("down");
    environment.load(TestEnvironment.UNA);
    environment.played();
    assertThat(only("leaving").state()).isEqualTo("open");
    environment.desk.behave("refuse");
    environment.at("2027-03-01T09:00:00Z");
    environment.at("2027-03-01T15:00:00Z");
    assertThat(only("leaving").state()).isEqualTo("stopped");
    assertThat(only("leaving").reason()).contains("refused");
    environment.desk.behave("well");
    runs.again(only("leaving").id(), "the desk is mended", ISA);
    environment.at("2027-03-01T16:00:00Z");
    assertThat(environment.desk.heard()).hasSize(1);
    assertThat(only("leaving").step()).isEqualTo(3);
  }

  @Test
  void a_run_is_held_goes_on_and_leaves_out_what_it_is_told_to() {
    define(LEAVING);
    environment.load(TestEnvironment.UNA, NEW.formatted("2026-01-01"));
    environment.sent();
    environment.load(
        TestEnvironment.UNA, "W-3,Ottilie,Voe,Deck,Westholm,W-1,2026-01-01,2027-03-04,,");
    playing.carryOut();
    var id = only("leaving").id();
    runs.hold(id, "she may stay", ISA);
    environment.at("2027-03-06T12:00:00Z");
    assertThat(environment.desk.heard()).isEmpty();
    runs.skip(id, "no ticket for her", ISA);
    runs.hold(id, "still", ISA);
    runs.release(id, "she goes", ISA);
    environment.at("2027-03-06T13:00:00Z");
    assertThat(environment.desk.heard()).isEmpty();
    assertThat(only("leaving").step()).isEqualTo(3);
    assertThat(views.show(id, ISA).steps().getFirst().step().state()).isEqualTo("left-out");
    runs.end(id, "enough", ISA);
    assertThatThrownBy(() -> runs.hold(id, "again", ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("ended");
    var auditor = new Actor("siobhan", "Siobhan", null, List.of(Assignment.of(Duty.AUDITOR)));
    assertThatThrownBy(() -> runs.end(id, "x", auditor)).isInstanceOf(Refused.class);
    assertThat(views.show(id, auditor).run().state()).isEqualTo("ended");
  }

  @Test
  void packages_are_given_kept_disabled_and_taken_on_demand() {
    define(
        """
        playbook: at-sea
        on: demand
        steps:
        - give: shipyard
          for: 10 days
        - disable: chartshare
        - wait: 3 days
        - enable: chartshare
        - end: shipyard
        """);
    environment.load(TestEnvironment.UNA);
    environment.sent();
    runs.play("at-sea", List.of("W-1"), null, "she sails", ISA);
    environment.at("2027-03-02T12:00:00Z");
    assertThat(environment.groups("W-1")).contains("Slip drawings");
    assertThat(environment.user("W-1").path("active").asBoolean()).isFalse();
    environment.at("2027-03-05T12:00:00Z");
    assertThat(environment.user("W-1").path("active").asBoolean()).isTrue();
    assertThat(environment.groups("W-1")).containsExactlyInAnyOrder("Charts", "Westholm");
    assertThat(only("at-sea").state()).isEqualTo("done");
  }

  @Test
  void a_grant_that_begins_and_one_that_ends_begin_runs() {
    define(
        """
        playbook: yard-begins
        on: grant-begins
        package: shipyard
        steps:
        - ticket: open
          in: help-desk
          text: "{{person.name}} works in the yard"
        """,
        """
        playbook: yard-ends
        on: grant-ends
        package: shipyard
        steps:
        - ticket: open
          in: help-desk
          text: "{{person.name}} has left the yard"
        """);
    environment.load(TestEnvironment.UNA);
    environment.sent();
    environment.played();
    environment.load("W-1,Una,Kerrow,Shipyard,Westholm,,2020-01-01,,,");
    environment.at("2027-03-02T12:00:00Z");
    environment.load("W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,,,");
    environment.at("2027-03-20T12:00:00Z");
    assertThat(environment.desk.heard())
        .extracting(each -> each.path("data").path("text").asText())
        .containsExactly("Una Kerrow works in the yard", "Una Kerrow has left the yard");
  }

  @Test
  void the_end_of_the_last_of_what_somebody_was_given_begins_one_run() {
    define(
        """
        playbook: nothing-left
        on: last-grant-ends
        steps:
        - ticket: open
          in: help-desk
          text: "{{person.name}} has nothing left"
        """);
    environment.load(TestEnvironment.UNA, TestEnvironment.BO);
    environment.sent();
    environment.played();
    given(1, "W-1", "2027-03-02 06:00:00");
    given(2, "W-1", "2027-03-04 06:00:00");
    given(3, "W-2", null);
    environment.at("2027-03-03T12:00:00Z");
    assertThat(environment.desk.heard()).as("one is still held").isEmpty();
    environment.at("2027-03-05T12:00:00Z");
    environment.played();
    environment.played();
    assertThat(environment.desk.heard())
        .extracting(each -> each.path("data").path("text").asText())
        .containsExactly("Una Kerrow has nothing left");
  }

  private void given(long id, String worker, String endsAt) {
    environment.sql.update(
        "insert into access_grant (id, person_id, target_kind, target_key, basis, basis_key, starts_at, ends_at, end_reason) select ?, id, 'package', 'westholm', 'direct', ?, '2027-02-01 06:00:00', ?, '' from person where worker_number = ?",
        id,
        "offer#" + id,
        endsAt,
        worker);
  }

  @Test
  void a_schedule_plays_for_everybody_it_is_for_each_time_once() {
    define(
        """
        playbook: monday
        on: schedule
        at: 0 6 * * 1
        where: person.location == "Westholm"
        steps:
        - ticket: open
          in: help-desk
          text: Look after {{person.name}}
        """);
    environment.load(TestEnvironment.UNA, TestEnvironment.BO);
    environment.at("2027-03-16T12:00:00Z");
    assertThat(environment.desk.heard())
        .extracting(each -> each.path("data").path("text").asText())
        .containsOnly("Look after Una Kerrow")
        .hasSize(2);
  }

  @Test
  void a_rehearsal_says_what_would_be_done_and_does_nothing() {
    define(LEAVING, FIRST_DAY);
    environment.load(TestEnvironment.UNA, NEW.formatted("2027-03-20"));
    var rehearsal = views.rehearse("first-day", "W-3", null, ISA);
    assertThat(rehearsal.steps())
        .extracting(RunViews.Rehearsed::sentence)
        .containsExactly(
            "Waits until the account in chartshare is seen ready; it is not there now.",
            "Sets a passcode in chartshare and sends the letter “A passcode for Ottilie Voe” to Una Kerrow.",
            "Waits until the account in chartshare is seen enabled; it is not there now.",
            "Sends the letter “Welcome aboard, Ottilie” to Ottilie Voe.");
    assertThat(rehearsal.steps().get(1).due()).hasToString("2027-03-19T18:00:00Z");
    assertThat(views.rehearse("leaving", "W-1", null, ISA).steps().get(3).sentence())
        .isEqualTo("Una Kerrow has no manager who is here.");
    assertThat(environment.number("select count(*) from playbook_run")).isZero();
    assertThat(environment.number("select count(*) from message")).isZero();
  }

  @Test
  void what_unfinished_runs_need_stays_defined() {
    define(LEAVING);
    environment.load(TestEnvironment.UNA, NEW.formatted("2026-01-01"));
    environment.sent();
    environment.load(
        TestEnvironment.UNA, "W-3,Ottilie,Voe,Deck,Westholm,W-1,2026-01-01,2027-03-04,,");
    playing.carryOut();
    assertThatThrownBy(() -> environment.define(TestEnvironment.skerryLine(), true))
        .isInstanceOfSatisfying(
            Refused.class,
            refused ->
                assertThat(refused.mistakes())
                    .extracting(Refused.Mistake::sentence)
                    .anyMatch(each -> each.contains("channel: help-desk cannot be dropped")));
  }

  @Test
  void whoever_has_left_is_told_nothing_and_asked_nothing() {
    define(FIRST_DAY);
    environment.load(
        "W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,2027-03-10,,", NEW.formatted("2027-03-20"));
    environment.at("2027-03-20T12:00:00Z");
    assertThat(only("first-day").state()).isEqualTo("stopped");
    assertThat(only("first-day").reason()).isEqualTo("Ottilie Voe has no manager who is here.");
    assertThat(environment.post.letters()).isEmpty();
  }

  @Test
  void what_a_skipped_step_wrote_is_not_sent_any_more() {
    define(LEAVING);
    environment.load(TestEnvironment.UNA, NEW.formatted("2026-01-01"));
    environment.sent();
    environment.desk.behave("down");
    environment.load(TestEnvironment.UNA);
    environment.played();
    runs.skip(only("leaving").id(), "the desk is closed for good", ISA);
    environment.desk.behave("well");
    environment.at("2027-03-04T12:00:00Z");
    assertThat(environment.desk.heard()).isEmpty();
    assertThat(only("leaving").step()).isEqualTo(3);
  }

  @Test
  void playbooks_that_were_gone_for_a_while_begin_with_what_happens_from_then_on() {
    define(LEAVING);
    environment.load(TestEnvironment.UNA, NEW.formatted("2026-01-01"));
    environment.sent();
    environment.played();
    environment.define(TestEnvironment.skerryLine(), true);
    environment.load(TestEnvironment.UNA);
    environment.at("2027-03-02T12:00:00Z");
    define(LEAVING);
    environment.at("2027-03-03T12:00:00Z");
    assertThat(views.list("leaving", null, null, Long.MAX_VALUE, 10, ISA)).isEmpty();
  }

  @Test
  void a_question_that_lapsed_is_asked_again_when_its_step_is_tried_again() {
    define(LEAVING);
    keepAfterHold();
    environment.load(TestEnvironment.UNA, NEW.formatted("2026-01-01"));
    environment.sent();
    environment.load(TestEnvironment.UNA);
    environment.at("2027-04-10T12:00:00Z");
    assertThat(only("leaving").reason()).isEqualTo("Nobody answered within 14 days.");
    assertThat(asks.open(false, Long.MAX_VALUE, 10, UNA)).isEmpty();
    runs.again(only("leaving").id(), "she was at sea", ISA);
    environment.played();
    asks.answer(asks.open(false, Long.MAX_VALUE, 10, UNA).getFirst().id(), true, "", UNA);
    environment.at("2027-04-10T13:00:00Z");
    assertThat(only("leaving").state()).isEqualTo("done");
  }
}
