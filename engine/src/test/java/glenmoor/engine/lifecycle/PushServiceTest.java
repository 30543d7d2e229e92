package glenmoor.engine.lifecycle;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import java.time.Duration;
import java.util.HashMap;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** People whom a client pushes by SCIM, as the engine takes them. */
class PushServiceTest extends EngineTest {
  private static final Actor CLIENT =
      new Actor("hr-cloud", "HR cloud", null, List.of(Assignment.of(Duty.SOURCE_CLIENT)));
  private static final String LAST = "urn:ietf:params:scim:schemas:extension:skerryline:2.0:Worker";
  private static final String SOURCE =
      """
      source: hr-cloud
      mode: changes
      push: hr-cloud
      worker: urn:ietf:params:scim:schemas:extension:enterprise:2.0:User:employeeNumber
      columns:
        name.givenName: given
        name.familyName: family
        urn:ietf:params:scim:schemas:extension:enterprise:2.0:User:department: department
        urn:ietf:params:scim:schemas:extension:enterprise:2.0:User:manager.value: manager
        addresses[type eq "work"].locality: location
        urn:ietf:params:scim:schemas:extension:skerryline:2.0:Worker:firstDay: start
        urn:ietf:params:scim:schemas:extension:skerryline:2.0:Worker:lastDay: end
      """;

  private static final PushService.Wanted ALL = PushService.Wanted.of(null, null);

  private PushService push;

  private static PushService.Asked asked(
      @Nullable String filter, @Nullable String sortBy, boolean descending, int start, int count) {
    var said = new HashMap<String, @Nullable String>();
    said.put("filter", filter);
    said.put("sortBy", sortBy);
    said.put("sortOrder", descending ? "descending" : "ascending");
    said.put("startIndex", String.valueOf(start));
    said.put("count", String.valueOf(count));
    return PushService.Asked.of(said::get);
  }

  @BeforeEach
  void defined() {
    environment.define(SOURCE, false);
    push = environment.get(PushService.class);
  }

  private static String user(String number, String given, String department, String more) {
    return """
    {"schemas": ["urn:ietf:params:scim:schemas:core:2.0:User"], "userName": "%s@hr.example",
     "name": {"givenName": "%s", "familyName": "Rysa"},
     "addresses": [{"type": "home", "locality": "Elsewhere"}, {"type": "work", "locality": "Westholm"}],
     "urn:ietf:params:scim:schemas:extension:enterprise:2.0:User": {"employeeNumber": "%s", "department": "%s"},
     "%s": {"firstDay": "2026-01-01"}%s}
    """
        .formatted(number, given, number, department, LAST, more);
  }

  private String fact(String worker, String fact) {
    return environment.sql.queryForObject(
        "select coalesce(json_value(facts, '$."
            + fact
            + "'), '') from person where worker_number = ?",
        String.class,
        worker);
  }

  private List<String> kinds(String worker) {
    return environment.sql.queryForList(
        "select kind from event where person_id = (select id from person where worker_number = ?) order by id",
        String.class,
        worker);
  }

  @Test
  void a_joiner_a_move_and_a_leaver_are_pushed() {
    var one = push.create(user("P-1", "Ola", "Deck", ""), CLIENT);
    environment.agenda.sweep();
    environment.sent();
    assertThat(fact("P-1", "location")).isEqualTo("Westholm");
    assertThat(environment.groups("P-1")).contains("Westholm");
    push.patch(
        one.id(),
        """
        {"schemas": ["urn:ietf:params:scim:api:messages:2.0:PatchOp"], "Operations": [
          {"op": "replace", "path": "urn:ietf:params:scim:schemas:extension:enterprise:2.0:User:department", "value": "Shipyard"}]}
        """,
        1,
        CLIENT);
    environment.agenda.sweep();
    environment.settled();
    assertThat(environment.groups("P-1")).contains("Slip drawings");
    push.patch(
        one.id(),
        """
        {"schemas": ["urn:ietf:params:scim:api:messages:2.0:PatchOp"],
         "Operations": [{"op": "replace", "value": {"active": false}}]}
        """,
        2,
        CLIENT);
    environment.agenda.sweep();
    environment.settled();
    assertThat(environment.user("P-1").path("active").asBoolean()).isFalse();
    assertThat(environment.groups("P-1")).isEmpty();
    assertThat(kinds("P-1")).containsExactly("joiner", "mover", "leaver");
    push.replace(one.id(), user("P-1", "Ola", "Shipyard", ", \"active\": true"), null, CLIENT);
    assertThat(kinds("P-1")).endsWith("rehire");
  }

  @Test
  void what_is_sent_twice_is_one_person_and_one_event() {
    var one = push.create(user("P-1", "Ola", "Deck", ""), CLIENT);
    assertThatThrownBy(() -> push.create(user("P-1", "Ola", "Deck", ""), CLIENT))
        .isInstanceOf(PushService.Taken.class);
    push.replace(one.id(), user("P-1", "Ola", "Deck", ""), null, CLIENT);
    assertThat(kinds("P-1")).containsExactly("joiner");
  }

  @Test
  void whoever_knows_an_older_version_changes_nothing() {
    var one = push.create(user("P-1", "Ola", "Deck", ""), CLIENT);
    push.replace(one.id(), user("P-1", "Olaf", "Deck", ""), 1, CLIENT);
    assertThatThrownBy(() -> push.replace(one.id(), user("P-1", "Ole", "Deck", ""), 1, CLIENT))
        .isInstanceOf(PushService.Stale.class);
    assertThatThrownBy(() -> push.delete(one.id(), 1, CLIENT))
        .isInstanceOf(PushService.Stale.class);
    assertThat(fact("P-1", "given")).isEqualTo("Olaf");
  }

  @Test
  void what_cannot_be_used_is_refused_and_nothing_is_kept() {
    assertThatThrownBy(() ->
            push.create(user("P-1", "Ola", "Deck", "").replace("2026-01-01", "yesterday"), CLIENT))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("firstDay")
        .hasMessageContaining("yesterday");
    assertThatThrownBy(() -> push.create("{", CLIENT)).isInstanceOf(PushService.Unusable.class);
    assertThatThrownBy(() -> push.create("{\"userName\": \"x\"}", CLIENT))
        .isInstanceOf(PushService.Unusable.class)
        .hasMessageContaining("schemas");
    assertThat(push.list(asked(null, null, false, 1, 10), CLIENT).total()).isZero();
    assertThat(environment.number("select count(*) from person")).isZero();
  }

  @Test
  void another_worker_number_is_another_person() {
    var one = push.create(user("P-1", "Ola", "Deck", ""), CLIENT);
    assertThatThrownBy(() -> push.replace(one.id(), user("P-2", "Ola", "Deck", ""), null, CLIENT))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("stays");
  }

  @Test
  void whoever_is_taken_away_has_left_and_may_come_again() {
    var one = push.create(user("P-1", "Ola", "Deck", ""), CLIENT);
    push.delete(one.id(), null, CLIENT);
    assertThat(kinds("P-1")).containsExactly("joiner", "leaver");
    assertThatThrownBy(() -> push.get(one.id(), CLIENT)).isInstanceOf(Refused.class);
    push.create(user("P-1", "Ola", "Deck", ""), CLIENT);
    assertThat(kinds("P-1")).containsExactly("joiner", "leaver", "rehire");
  }

  @Test
  void a_manager_is_named_by_the_id_the_client_was_given() {
    var boss = push.create(user("P-1", "Ola", "Deck", ""), CLIENT);
    var report =
        user("P-2", "Bo", "Deck", "")
            .replace(
                "\"employeeNumber\"",
                "\"manager\": {\"value\": \"" + boss.id() + "\"}, \"employeeNumber\"");
    push.create(report, CLIENT);
    assertThat(fact("P-2", "manager")).isEqualTo("P-1");
  }

  @Test
  void lists_are_filtered_sorted_and_paged() {
    for (var number : List.of("P-3", "P-1", "P-2")) {
      push.create(user(number, "G" + number, number.equals("P-2") ? "Yard" : "Deck", ""), CLIENT);
    }
    assertThat(push.list(asked(null, "userName", true, 1, 2), CLIENT).items())
        .extracting(each -> each.person().userName())
        .containsExactly("P-3@hr.example", "P-2@hr.example");
    var filtered =
        push.list(
            asked(
                "urn:ietf:params:scim:schemas:extension:enterprise:2.0:User:department eq \"Deck\"",
                "name.givenName",
                false,
                2,
                5),
            CLIENT);
    assertThat(filtered.total()).isEqualTo(2);
    assertThat(filtered.items()).hasSize(1);
    assertThat(
            push.list(asked("userName eq \"p-2@HR.example\"", null, false, 1, 5), CLIENT).total())
        .isEqualTo(1);
    assertThatThrownBy(() -> push.list(asked("userName eq", null, false, 1, 5), CLIENT))
        .isInstanceOf(PushService.Unusable.class);
  }

  private void aMinuteLater() {
    environment.clock.moveTo(environment.clock.instant().plus(Duration.ofMinutes(1)));
  }

  private List<String> names(PushService.Page page) {
    return page.items().stream().map(each -> each.person().userName().substring(0, 3)).toList();
  }

  @Test
  void every_page_of_every_order_is_given_with_the_total_of_all() {
    for (var number : List.of("P-3", "P-1", "P-4", "P-2")) {
      aMinuteLater();
      var title =
          number.equals("P-3") ? ", \"active\": true" : ", \"title\": \"hand " + number + "\"";
      push.create(user(number, "G" + number, "Deck", title), CLIENT);
    }
    push.delete(push.create(user("P-5", "Gone", "Deck", ""), CLIENT).id(), null, CLIENT);
    assertThat(names(push.list(asked(null, "userName", false, 3, 2), CLIENT)))
        .containsExactly("P-3", "P-4");
    assertThat(names(push.list(asked(null, "meta.lastModified", true, 1, 3), CLIENT)))
        .containsExactly("P-2", "P-4", "P-1");
    assertThat(names(push.list(asked(null, "title", false, 1, 9), CLIENT)))
        .as("who has none comes last")
        .containsExactly("P-1", "P-2", "P-4", "P-3");
    assertThat(names(push.list(asked(null, "title", true, 1, 2), CLIENT)))
        .containsExactly("P-3", "P-4");
    var beyond = push.list(asked(null, "userName", false, 9, 5), CLIENT);
    assertThat(beyond.items()).isEmpty();
    assertThat(beyond.total()).isEqualTo(4);
    var counted = push.list(asked("title sw \"hand\"", "userName", true, 2, 0), CLIENT);
    assertThat(counted.items()).isEmpty();
    assertThat(counted.total()).isEqualTo(3);
    assertThat(push.list(asked(null, null, false, 1, 9), CLIENT).items())
        .extracting(PushService.Pushed::id)
        .isSorted();
    assertThatThrownBy(() -> push.list(asked(null, "name[", false, 1, 5), CLIENT))
        .isInstanceOf(PushService.Unusable.class)
        .hasMessageContaining("no path");
    assertThatThrownBy(() -> push.list(asked("active gt true", null, false, 1, 5), CLIENT))
        .isInstanceOf(PushService.Unusable.class);
  }

  @Test
  void a_filter_looks_at_what_the_client_reads_when_it_was_changed_as_well() {
    var one = push.create(user("P-1", "Ola", "Deck", ""), CLIENT);
    var since = environment.clock.instant().toString();
    aMinuteLater();
    push.create(user("P-2", "Bo", "Deck", ""), CLIENT);
    var changed = "meta.lastModified gt \"" + since + "\"";
    assertThat(names(push.list(asked(changed, null, false, 1, 9), CLIENT))).containsExactly("P-2");
    aMinuteLater();
    push.replace(one.id(), user("P-1", "Olaf", "Deck", ""), null, CLIENT);
    assertThat(names(push.list(asked(changed, "userName", false, 1, 9), CLIENT)))
        .containsExactly("P-1", "P-2");
    assertThat(names(push.list(asked("id eq \"" + one.id() + "\"", null, false, 1, 9), CLIENT)))
        .containsExactly("P-1");
  }

  private List<String> groups(@Nullable String filter) {
    return push.groups(asked(filter, null, false, 1, 9), "http://here", CLIENT).items();
  }

  @Test
  void groups_are_the_teams_in_which_its_own_people_are() {
    var one = push.create(user("P-1", "Ola", "Deck", ""), CLIENT);
    environment.loadFrom("people-office", TestEnvironment.HEADING + TestEnvironment.UNA);
    assertThat(groups(null)).isEmpty();
    environment.define(
        """
        team: lookouts
        name: Lookouts
        members: [W-1, p-1, P-77]
        ---
        team: cooks
        members: [W-1]
        """,
        false);
    assertThat(groups(null))
        .as("of the cooks it may not know")
        .singleElement()
        .asString()
        .contains("http://here/Users/" + one.id(), "\"displayName\":\"Lookouts\"")
        .doesNotContain("W-1", "P-77");
    assertThat(push.group("lookouts", ALL, "http://here", CLIENT))
        .isEqualTo(groups(null).getFirst());
    assertThatThrownBy(() -> push.group("cooks", ALL, "http://here", CLIENT))
        .isInstanceOf(Refused.class);
    assertThat(groups("displayName eq \"cooks\"")).isEmpty();
    assertThat(groups("members.value eq \"" + one.id() + "\"")).hasSize(1);
    environment.define("team: bosuns\nname: Alpha\nmembers: [P-1]\n", false);
    var sorted = push.groups(asked(null, "displayName", true, 1, 1), "http://here", CLIENT);
    assertThat(sorted.total()).isEqualTo(2);
    assertThat(sorted.items()).singleElement().asString().contains("\"id\":\"lookouts\"");
    var bare = PushService.Wanted.of(null, "members");
    assertThat(push.group("bosuns", bare, "http://here", CLIENT))
        .contains("Alpha")
        .doesNotContain(one.id());
    push.delete(one.id(), null, CLIENT);
    assertThat(groups(null)).isEmpty();
  }

  @Test
  void a_client_reaches_its_own_people_only_and_nothing_else() {
    var one = push.create(user("P-1", "Ola", "Deck", ""), CLIENT);
    var other = new Actor("other", "Other", null, List.of(Assignment.of(Duty.SOURCE_CLIENT)));
    assertThatThrownBy(() -> push.get(one.id(), other)).isInstanceOf(Refused.class);
    assertThatThrownBy(() -> push.get(one.id(), new Actor("una", "Una", "W-1", List.of())))
        .isInstanceOf(Refused.class);
    assertThatThrownBy(() -> environment.feeds.list(Long.MAX_VALUE, 5, CLIENT))
        .isInstanceOf(Refused.class);
    // Whose people another source brings cannot be pushed over.
    environment.loadFrom("people-office", TestEnvironment.HEADING + TestEnvironment.UNA);
    assertThatThrownBy(() -> push.create(user("W-1", "Una", "Deck", ""), CLIENT))
        .isInstanceOf(Refused.class);
    assertThat(fact("W-1", "family")).isEqualTo("Kerrow");
  }
}
