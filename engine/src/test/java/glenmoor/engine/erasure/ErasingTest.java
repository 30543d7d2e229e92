package glenmoor.engine.erasure;

import static glenmoor.engine.TestEnvironment.ISA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.core.erasure.ErasedEntry;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.lifecycle.CutOffService;
import glenmoor.engine.playbooks.AskService;
import glenmoor.engine.playbooks.RunViews;
import glenmoor.store.erasure.PersonalText;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Of whoever was erased nothing is left but a number, and of everybody else all of it. */
class ErasingTest extends EngineTest {
  private static final String PLAYBOOKS =
      """
      letters: skerry-line
      from: Skerry Line <glenmoor@skerryline.example>
      address: fold(person.family) + "@skerryline.example"
      ---
      letter: first-day-passcode
      subject: A passcode for {{person.name}}
      body: |
        Dear {{recipient.name}}, the passcode of {{person.name}} is `{{passcode}}`.
      ---
      letter: goodbye
      subject: Goodbye, {{person.name}}
      body: |
        Fare well, {{person.name}}.
      ---
      playbook: first-day
      on: joiner
      late: 7 days
      steps:
      - passcode: chartshare
        to: manager
        letter: first-day-passcode
      ---
      playbook: leaving
      on: leaver
      late: 300 days
      steps:
      - letter: goodbye
      - ask: Shall the account of {{person.name}} be deleted?
        of: manager
        lapse: 60 days
      - erase: person
        at: 6 days after
      """;
  private static final String ZOE = "W-3,Zoë,Voeberg,Deck,Westholm,W-1,2027-03-02,%s,,";
  private static final String ZOE_STAYS = ZOE.formatted("");
  private static final String NAMESAKE = "W-4,Zoë,Voeberg,Deck,Westholm,W-1,2027-03-02,,,";
  private static final Actor UNA = new Actor("una", "una", "W-1", List.of());

  @BeforeEach
  void playbooks() {
    environment.define(
        TestEnvironment.skerryLine()
            .replace("hold: 30 days", "hold: 1 day")
            .replace("  rename: on-change", "  rename: on-change\n  keep-names: 60 days"),
        false);
    environment.define(PLAYBOOKS, false);
  }

  private void at(String moment) {
    environment.at(moment);
    environment.played();
  }

  /** Zoë begins, signs in, says something, leaves, and it is answered that her account may go. */
  private void zoeCameAndWent(String... others) {
    load(others, ZOE_STAYS);
    at("2027-03-03T09:00:00Z");
    environment.signIns.put("zoe", "Zoë Voeberg", "W-3", "harbour lights", true, List.of(), ISA);
    environment.signIns.signIn("zoe", "harbour lights", "127.0.0.1");
    load(others, "W-3,Zoë,Voeberg-Ness,Deck,Westholm,W-1,2027-03-02,2027-03-10,,");
    at("2027-03-11T09:00:00Z");
    var ask = environment.get(AskService.class);
    var asked = ask.open(false, Long.MAX_VALUE, 10, UNA).getFirst();
    ask.answer(asked.id(), true, "Zoë Voeberg needs nothing", UNA);
    environment.played();
    at("2027-03-14T09:00:00Z");
  }

  private void load(String[] others, String zoe) {
    var rows = new ArrayList<String>();
    rows.add(TestEnvironment.UNA);
    rows.add(TestEnvironment.BO);
    rows.addAll(List.of(others));
    rows.add(zoe);
    environment.load(rows.toArray(String[]::new));
  }

  private void isErased() {
    at("2027-03-17T00:20:00Z");
    assertThat(run().path()).as(run().what()).isEqualTo("done");
    assertThat(environment.get(Forgetting.class).carryOut()).as("not at once").isZero();
    environment.at("2027-03-17T02:00:00Z");
    assertThat(environment.get(Forgetting.class).carryOut()).isEqualTo(1);
    assertThat(environment.get(Forgetting.class).carryOut()).isZero();
  }

  private record Ran(String path, String what) {}

  private Ran run() {
    var views = environment.get(RunViews.class);
    var run = views.list("leaving", "W-3", null, Long.MAX_VALUE, 10, ISA).getFirst();
    return new Ran(run.state(), views.show(run.id(), ISA).steps().getLast().step().what());
  }

  /** Where a text stands, in any table, in any version of a row: table.column, and how often. */
  private Map<String, Long> places(String text) {
    var found = new TreeMap<String, Long>();
    environment
        .sql
        .queryForList(
            """
            select t.table_name, c.column_name, t.table_type
            from information_schema.tables t
              join information_schema.columns c on c.table_schema = t.table_schema and c.table_name = t.table_name
            where t.table_schema = database() and t.table_type in ('BASE TABLE', 'SYSTEM VERSIONED')
              and t.table_name not in ('job_queue', 'scheduled_tasks', 'flyway_schema_history')
              and c.data_type not in ('bigint', 'int', 'tinyint', 'date', 'datetime', 'timestamp')
            """)
        .forEach(row -> {
          var table = row.get("table_name");
          var column = row.get("column_name");
          var count =
              environment.number(
                  "select count(*) from `%s` %s where lower(convert(`%s` using utf8mb4)) like '%%%s%%'"
                      .formatted(
                          table,
                          "SYSTEM VERSIONED".equals(row.get("table_type"))
                              ? "for system_time all"
                              : "",
                          column,
                          text.toLowerCase(Locale.ROOT)));
          if (count > 0) {
            found.put(table + "." + column, count);
          }
        });
    return found;
  }

  private String everyVersionOfOthers(String table, String person) {
    return environment
        .sql
        .queryForList(
            "select *, row_start, row_end from %s for system_time all where %s != (select id from person where worker_number = 'W-3') order by id, row_start"
                .formatted(table, person))
        .stream()
        .map(row -> {
          row.replaceAll((column, value) -> value instanceof byte[] bytes ? hex(bytes) : value);
          return row.toString();
        })
        .collect(Collectors.joining("\n"));
  }

  private static String hex(byte[] bytes) {
    return HexFormat.of().formatHex(bytes);
  }

  @Test
  void nothing_says_any_more_who_they_were() {
    zoeCameAndWent();
    for (var text : List.of("zoë voeberg", "voeberg", "zoe")) {
      assertThat(places(text)).as(text).isNotEmpty();
    }
    assertThat(places("voeberg"))
        .containsKeys(
            "person.facts",
            "account.name",
            "event.changes",
            "message.body",
            "ask.question",
            "operation.payload",
            "ledger_entry.entry");
    var entries =
        environment.sql.queryForList("select id, entry from ledger_entry order by id").stream()
            .collect(
                Collectors.toMap(row -> row.get("id"), row -> String.valueOf(row.get("entry"))));
    isErased();
    for (var text : List.of("zoë", "voeberg", "zoe", "zoe voeberg")) {
      var left = places(text);
      left.remove("account_name.name");
      left.remove("account_name.name_key");
      left.remove("account_name.base_name");
      assertThat(left).as(text).isEmpty();
    }
    whatStoodInTheLedgerIsStillProvable(entries);
    // The name of the account is kept from others as long as is said, and no longer.
    environment.at("2027-05-09T09:00:00Z");
    environment.get(Forgetting.class).carryOut();
    assertThat(places("voeberg"))
        .containsOnlyKeys("account_name.name", "account_name.name_key", "account_name.base_name");
    environment.at("2027-05-20T09:00:00Z");
    environment.get(Forgetting.class).carryOut();
    assertThat(places("voeberg")).isEmpty();
    assertThat(places("erased-")).containsKey("login.name");
    assertThat(environment.people.show("W-3", ISA).person().standing()).isEqualTo("erased");
    assertThat(environment.people.show("W-3", ISA).person().name()).isEqualTo("Erased W-3");
  }

  private void whatStoodInTheLedgerIsStillProvable(Map<Object, String> before) {
    var changed =
        environment.sql.queryForList(
            "select id, entry, lower(hex(leaf)) as leaf from ledger_entry where leaf is not null");
    assertThat(changed).isNotEmpty();
    for (var row : changed) {
      var was = before.get(row.get("id"));
      if (was != null) {
        assertThat(row.get("leaf")).isEqualTo(HexFormat.of().formatHex(ErasedEntry.leaf(was)));
      }
    }
    environment.sql.queryForList("select id, entry from ledger_entry where leaf is null").stream()
        .filter(row -> before.containsKey(row.get("id")))
        .forEach(row -> assertThat(row.get("entry")).isEqualTo(before.get(row.get("id"))));
    assertThat(environment.happened("person:W-3")).contains("joiner", "leaver", "person-erased");
  }

  @Test
  void nobody_else_loses_anything_and_a_namesake_keeps_the_name() {
    zoeCameAndWent(NAMESAKE);
    environment.at("2027-03-16T09:00:00Z");
    var people = everyVersionOfOthers("person", "id");
    var accounts = everyVersionOfOthers("account", "person_id");
    assertThat(people).contains("Voeberg");
    var letters =
        environment.number("select count(*) from message where body like '%Zoë Voeberg%'");
    isErased();
    assertThat(everyVersionOfOthers("person", "id")).isEqualTo(people);
    assertThat(everyVersionOfOthers("account", "person_id")).isEqualTo(accounts);
    assertThat(environment.number("select count(*) from message where body like '%Zoë Voeberg%'"))
        .isBetween(1L, letters - 1);
    assertThat(environment.number("select count(*) from person where name = 'Zoë Voeberg'"))
        .isOne();
  }

  @Test
  void an_account_that_is_kept_stands_in_the_way() {
    environment.define(
        TestEnvironment.skerryLine().replace("after-hold: delete", "after-hold: keep"), false);
    load(new String[0], ZOE_STAYS);
    at("2027-03-03T09:00:00Z");
    load(new String[0], ZOE.formatted("2027-03-10"));
    at("2027-03-11T09:00:00Z");
    var ask = environment.get(AskService.class);
    ask.answer(ask.open(false, Long.MAX_VALUE, 10, UNA).getFirst().id(), true, "", UNA);
    environment.played();
    at("2027-03-20T09:00:00Z");
    assertThat(run().path()).isEqualTo("stopped");
    assertThat(run().what()).contains("they still have an account in chartshare: delete it first");
    assertThat(places("voeberg")).containsKey("person.facts");
  }

  @Test
  void an_old_row_of_theirs_brings_nothing_back_and_a_new_one_brings_them_anew() {
    zoeCameAndWent();
    isErased();
    load(new String[0], "W-3,Zoë,Voeberg,Shipyard,Westholm,W-1,2027-03-02,2027-03-10,,");
    environment.played();
    assertThat(places("voeberg")).doesNotContainKeys("person.facts", "event.changes");
    environment.load(TestEnvironment.UNA, TestEnvironment.BO);
    assertThat(environment.happened("person:W-3"))
        .doesNotContain("rehire", "correction")
        .containsOnlyOnce("leaver", "person-erased");
    load(new String[0], "W-3,Zoë,Voeberg,Shipyard,Westholm,W-1,2027-03-22,,,");
    at("2027-03-22T09:00:00Z");
    assertThat(environment.happened("person:W-3")).contains("rehire");
    assertThat(environment.user("W-3").path("active").asBoolean()).isTrue();
    assertThat(environment.number("select count(*) from person where erased_on is not null"))
        .isZero();
  }

  @Test
  void whoever_was_cut_off_is_not_erased_before_their_source_says_that_they_left() {
    load(new String[0], ZOE_STAYS);
    at("2027-03-03T09:00:00Z");
    environment.get(CutOffService.class).cutOff("W-3", "by mistake", ISA);
    environment.played();
    var ask = environment.get(AskService.class);
    ask.answer(ask.open(false, Long.MAX_VALUE, 10, UNA).getFirst().id(), true, "", UNA);
    at("2027-03-12T09:00:00Z");
    assertThat(run().what()).contains("their source still says that they are here");
    environment.get(CutOffService.class).bringBack("W-3", "it was a mistake", ISA);
    environment.played();
    assertThat(environment.user("W-3").path("active").asBoolean()).isTrue();
    assertThat(environment.user("W-3").path("displayName").asString()).isEqualTo("Zoë Voeberg");
  }

  @Test
  void whoever_comes_back_meanwhile_is_not_erased() {
    zoeCameAndWent();
    load(new String[0], "W-3,Zoë,Voeberg,Deck,Westholm,W-1,2027-03-16,,,");
    at("2027-03-20T09:00:00Z");
    assertThat(places("voeberg")).containsKey("person.facts");
    assertThat(environment.number("select count(*) from erasure")).isZero();
  }

  @Test
  void each_table_with_rows_of_people_is_thought_of() {
    var of =
        environment.sql.queryForList(
            """
            select distinct c.table_name
            from information_schema.columns c
              join information_schema.tables t on t.table_schema = c.table_schema and t.table_name = c.table_name
            where c.table_schema = database() and t.table_type in ('BASE TABLE', 'SYSTEM VERSIONED')
              and (c.table_name = 'person' or c.column_name in ('person_id', 'worker_number', 'worker_key', 'worker'))
            """,
            String.class);
    var known = PersonalText.ALL.stream().map(PersonalText::table).collect(Collectors.toSet());
    of.removeIf(known::contains);
    assertThat(of).isSubsetOf(PersonalText.NOTHING_PERSONAL.keySet());
  }

  @Test
  void it_is_the_last_step_and_for_who_has_left() {
    assertThatThrownBy(() ->
            environment.define(
                "playbook: wrong\non: mover\nsteps:\n- erase: person\n- wait: 1 day\n- erase: all\n",
                false))
        .isInstanceOfSatisfying(
            Refused.class,
            refused ->
                assertThat(refused.mistakes().toString())
                    .contains("a playbook that does it is on leaver, no-show or demand")
                    .contains("erase is the last step")
                    .contains("erase is “all”; say person"));
  }
}
