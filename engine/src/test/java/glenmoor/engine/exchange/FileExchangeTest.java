package glenmoor.engine.exchange;

import static glenmoor.engine.TestEnvironment.BO;
import static glenmoor.engine.TestEnvironment.ISA;
import static glenmoor.engine.TestEnvironment.UNA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.core.exchange.OrderFile;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.applications.HealthChecks;
import glenmoor.engine.lifecycle.CutOffService;
import glenmoor.engine.reconcile.Reconciles;
import glenmoor.standins.applications.FileApplication;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** An application that takes its changes as files every night, and answers with what it has. */
class FileExchangeTest {
  private static final String MISHAP_BOOK =
      """
      application: mishap-book
      name: Mishap Book
      connector: files
      account:
        name: fold(person.family)
        attributes: {called: person.name}
      care: {hold: 2 days, after-hold: delete}
      ---
      exchange: mishap-book
      at: 0 3 * * *
      ---
      entitlement: mishap-book/reading
      technical: Reading
      kind: role
      name: Reading reports
      ---
      package: incident-reader
      name: Incident reader
      entitlements: [mishap-book/reading]
      ---
      birthright: incident-reader
      package: incident-reader
      where: person.department == "Deck"
      """;
  private static final String UNA_LEFT = "W-1,Una,Kerrow,Deck,Westholm,,2020-01-01,2027-02-28,,";
  private static final String NIGHT = "2027-03-02T03:00:30Z";

  private TestEnvironment environment;
  private FileExchange exchange;
  private FileApplication book;

  @BeforeEach
  void load() throws IOException {
    environment = new TestEnvironment().defined();
    environment.define(MISHAP_BOOK, false);
    book =
        new FileApplication(
            "mishap-book",
            environment.directory.resolve("mishap-book"),
            environment.directory,
            0,
            "for the tests");
    exchange = environment.get(FileExchange.class);
    environment.load(UNA, BO);
    environment.agenda.sweep();
    environment.start();
    pending();
  }

  @AfterEach
  void close() {
    // What writes into the environment's directory ends before that is gone.
    book.close();
    environment.close();
  }

  /** Waits until a lane was looked at, and stands at what waits for a file. */
  private void pending() {
    TestEnvironment.eventually(() ->
        environment.number(
                "select count(*) from operation where application = 'mishap-book' and state = 'waiting' and reason = 'stands in the next file'")
            > 0);
  }

  private long confirmed() {
    return environment.number(
        "select count(*) from operation where application = 'mishap-book' and state = 'confirmed'");
  }

  /** Looks for answers until nothing waits any more. */
  private void answered() {
    TestEnvironment.eventually(() -> {
      exchange.carryOut();
      return environment.number(
              "select count(*) from operation where application = 'mishap-book' and state = 'waiting'")
          == 0;
    });
  }

  private List<OrderFile> files() {
    return exchange.list("mishap-book", null, 50, ISA);
  }

  private Path out(OrderFile file) {
    return environment.directory.resolve("mishap-book/out").resolve(file.name());
  }

  @Test
  void nothing_happens_there_before_a_file_is_written() {
    exchange.carryOut();
    assertThat(files()).isEmpty();
    assertThat(book.accounts()).isEmpty();
    assertThat(
            environment.number(
                "select count(*) from operation where application = 'mishap-book' and sent_at is not null"))
        .as("and nothing is said to have been sent")
        .isZero();
  }

  @Test
  void a_file_says_how_each_account_shall_be_and_the_answer_confirms_it() throws IOException {
    var file = exchange.write("mishap-book", ISA);
    assertThat(Files.readString(out(file)))
        .isEqualTo(
            "worker,account,state,called,rights\r\nW-1,kerrow,enabled,Una Kerrow,Reading\r\n");
    assertThat(file.rows()).isOne();
    answered();
    assertThat(confirmed()).isEqualTo(2);
    assertThat(book.accounts().get("W-1")).containsEntry("rights", "Reading");
    assertThat(files().getFirst().answeredAt()).isNotNull();
    assertThat(files().getFirst().accounts()).isOne();
    assertThat(environment.happened("application:mishap-book"))
        .containsExactly("file-written", "file-answered");
  }

  @Test
  void the_schedule_writes_one_file_a_night_however_often_it_is_looked_at() {
    environment.at(NIGHT);
    exchange.carryOut();
    exchange.carryOut();
    assertThat(files()).hasSize(1);
    assertThat(files().getFirst().writtenBy()).isEqualTo("schedule");
    assertThat(confirmed()).as("while the clock moves, its answer is waited for").isEqualTo(2);
    environment.at("2027-03-05T04:00:00Z");
    assertThat(files()).as("nights without a change bring no file").hasSize(1);
  }

  @Test
  void without_anything_that_waits_nothing_is_written() {
    exchange.write("mishap-book", ISA);
    answered();
    assertThatThrownBy(() -> exchange.write("mishap-book", ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("Nothing waits for Mishap Book");
  }

  @Test
  void all_accounts_are_named_where_the_definition_says_so() throws IOException {
    environment.define("exchange: mishap-book\nrows: all\nat: 0 3 * * *\n", false);
    exchange.write("mishap-book", ISA);
    answered();
    var again = exchange.write("mishap-book", ISA);
    assertThat(Files.readString(out(again))).contains("W-1,kerrow,enabled");
  }

  @Test
  void what_is_ordered_after_a_file_is_not_confirmed_by_its_answer() {
    book.behave("away", "");
    exchange.write("mishap-book", ISA);
    environment.load(UNA_LEFT, BO);
    environment.agenda.sweep();
    book.behave("well", "");
    TestEnvironment.eventually(() -> {
      exchange.carryOut();
      return files().getFirst().answeredAt() != null;
    });
    TestEnvironment.eventually(() ->
        environment.number(
                "select count(*) from operation where application = 'mishap-book' and kind in ('disable', 'remove') and state = 'waiting' and reason = 'stands in the next file'")
            > 0);
    assertThat(book.accounts().get("W-1"))
        .as("it did what it was told")
        .containsEntry("state", "enabled");
    exchange.write("mishap-book", ISA);
    answered();
    assertThat(book.accounts().get("W-1"))
        .containsEntry("state", "disabled")
        .containsEntry("rights", "");
  }

  @Test
  void a_refusal_is_a_fault_with_its_own_words_and_can_be_tried_again() {
    book.behave("refuse", "Not before the safety course");
    exchange.write("mishap-book", ISA);
    TestEnvironment.eventually(() -> {
      exchange.carryOut();
      return environment.number("select count(*) from operation where state = 'fault'") > 0;
    });
    assertThat(
            environment.sql.queryForList(
                "select reason from operation where state = 'fault'", String.class))
        .first()
        .asString()
        .endsWith("with: Not before the safety course");
    book.behave("well", "");
    environment.retries.retry(
        environment.number("select min(id) from operation where state = 'fault'"), ISA);
    environment.agenda.sweep();
    pending();
    exchange.write("mishap-book", ISA);
    answered();
    assertThat(book.accounts().get("W-1")).containsEntry("state", "enabled");
  }

  @Test
  void a_leaver_is_disabled_and_deleted_after_the_hold() {
    exchange.write("mishap-book", ISA);
    answered();
    environment.load(UNA_LEFT, BO);
    environment.agenda.sweep();
    environment.at("2027-03-02T04:00:00Z");
    assertThat(book.accounts().get("W-1")).containsEntry("state", "disabled");
    environment.at("2027-03-06T04:00:00Z");
    assertThat(book.accounts()).isEmpty();
    assertThat(
            environment.number(
                "select count(*) from account where application = 'mishap-book' and seen_state = 'none'"))
        .isOne();
  }

  @Test
  void who_must_go_this_minute_waits_for_no_schedule() {
    exchange.write("mishap-book", ISA);
    answered();
    environment.get(CutOffService.class).cutOff("W-1", "asked for by the harbour master", ISA);
    answered();
    assertThat(files()).hasSize(2);
    assertThat(files().getFirst().writtenBy()).isEqualTo("cut-off");
    assertThat(book.accounts().get("W-1")).containsEntry("state", "disabled");
  }

  @Test
  void a_cut_answer_proves_nothing() {
    book.behave("cut", "");
    exchange.write("mishap-book", ISA);
    TestEnvironment.eventually(() -> !book.accounts().isEmpty());
    TestEnvironment.eventually(() ->
        Files.exists(
            environment
                .directory
                .resolve("mishap-book/back")
                .resolve(files().getFirst().name().replace(".csv", ".status.csv.sha256"))));
    exchange.carryOut();
    assertThat(files().getFirst().answeredAt()).isNull();
    assertThat(confirmed()).isZero();
  }

  @Test
  void one_that_says_yes_and_does_nothing_is_found_out() {
    book.behave("forget", "");
    exchange.write("mishap-book", ISA);
    TestEnvironment.eventually(() -> {
      exchange.carryOut();
      return environment.number("select count(*) from operation where state = 'fault'") > 0;
    });
    assertThat(confirmed()).isZero();
  }

  @Test
  void an_answer_to_a_file_that_nobody_noted_confirms_nothing() {
    exchange.write("mishap-book", ISA);
    TestEnvironment.eventually(() -> !book.accounts().isEmpty());
    // As if the service had died between the file and the note of it.
    environment.sql.execute("delete from order_file");
    environment.sql.execute(
        "update operation set sent_at = null where application = 'mishap-book'");
    exchange.carryOut();
    assertThat(confirmed()).isZero();
    exchange.write("mishap-book", ISA);
    answered();
    assertThat(confirmed()).as("the next file says the same again").isEqualTo(2);
  }

  @Test
  void waiting_for_an_answer_is_nothing_unwell() {
    exchange.write("mishap-book", ISA);
    environment.get(HealthChecks.class).begin();
    TestEnvironment.eventually(() ->
        environment.number(
                "select count(*) from application_health where application = 'mishap-book'")
            == 1);
    assertThat(
            environment.sql.queryForObject(
                "select state from application_health where application = 'mishap-book'",
                String.class))
        .isEqualTo("well");
  }

  @Test
  void one_that_answers_no_file_stays_unwell_however_often_it_is_looked_for() {
    book.behave("away", "");
    exchange.write("mishap-book", ISA);
    exchange.write("mishap-book", ISA);
    environment.get(HealthChecks.class).begin();
    TestEnvironment.eventually(() -> unwell() == 1);
    exchange.carryOut();
    assertThat(unwell()).isOne();
  }

  private long unwell() {
    return environment.number(
        "select count(*) from application_health where application = 'mishap-book' and state = 'unwell'");
  }

  @Test
  void what_was_changed_there_by_hand_is_found_in_its_next_answer() {
    exchange.write("mishap-book", ISA);
    answered();
    var changed = new LinkedHashMap<>(book.accounts().get("W-1"));
    changed.put("rights", "Reading;Closing");
    book.change("W-1", changed);
    book.change("W-9", Map.of("worker", "", "account", "guest", "state", "enabled"));
    environment.define("exchange: mishap-book\nrows: all\n", false);
    exchange.write("mishap-book", ISA);
    TestEnvironment.eventually(() -> {
      exchange.carryOut();
      return files().getFirst().answeredAt() != null;
    });
    var work = environment.get(Reconciles.class).begin("mishap-book", ISA);
    assertThat(environment.ended(work).state()).isEqualTo("done");
    assertThat(environment.sql.queryForList("select kind from drift", String.class))
        .contains("stray-account");
  }

  @Test
  void nobody_writes_files_but_who_looks_after_the_application() {
    var fixer =
        new Actor("rhona", "Rhona Vane", "W-7", List.of(Assignment.of(Duty.FIXER, "chartshare")));
    assertThatThrownBy(() -> exchange.write("mishap-book", fixer))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("There is no application mishap-book");
    var auditor = new Actor("eva", "Eva Holm", null, List.of(Assignment.of(Duty.AUDITOR)));
    assertThatThrownBy(() -> exchange.write("mishap-book", auditor)).isInstanceOf(Refused.class);
    assertThat(exchange.list("mishap-book", null, 50, auditor)).isEmpty();
    assertThatThrownBy(() -> exchange.write("chartshare", ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("takes no files");
  }

  @Test
  void an_exchange_with_what_takes_no_files_is_found_at_save() {
    assertThatThrownBy(() -> environment.define("exchange: chartshare\nat: 0 3 * * *\n", false))
        .hasMessageContaining("cannot take changes as files");
  }
}
