package glenmoor.engine.provisioning;

import static glenmoor.engine.TestEnvironment.BO;
import static glenmoor.engine.TestEnvironment.ISA;
import static glenmoor.engine.TestEnvironment.UNA;
import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.engine.EngineTest;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.access.Revoking;
import glenmoor.engine.lifecycle.CutOffService;
import glenmoor.store.people.PersonMapper;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/**
 * Each operation says what it follows from, and never an HR event that has nothing to do with it.
 */
class CausesTest extends EngineTest {
  @BeforeEach
  void una_and_bo() {
    environment.load(UNA, BO);
    environment.sent();
  }

  /** The operations of somebody since a moment of the test: kind, entitlement, cause, event. */
  private List<String> since(String worker, int operations) {
    return environment
        .sql
        .queryForList(
            """
            select concat_ws(' ', o.kind, json_value(o.payload, '$.entitlement'), o.cause,
              coalesce((select e.kind from event e where e.id = o.event_id), '-'))
            from operation o
            where o.person_id = (select id from person where worker_number = ?)
            order by o.sequence
            """,
            String.class,
            worker)
        .stream()
        .skip(operations)
        .map(each -> each.replaceAll("@\\d+", "@N"))
        .toList();
  }

  private void planned() {
    environment.agenda.sweep();
    environment.sent();
  }

  private void give(long id, String basis, String basisKey, String ends) {
    environment.transactions.run(() -> {
      environment.sql.update(
          "insert into access_grant (id, person_id, target_kind, target_key, basis, basis_key, decided_at, starts_at, ends_at, end_reason) select ?, id, 'package', 'shipyard', ?, ?, '2027-03-01 05:00:00', '2027-03-01 05:00:00', ?, '' from person where worker_number = 'W-1'",
          id,
          basis,
          basisKey,
          ends);
      environment.sql.update(
          "update person set due_at = '2027-03-01', due_cause = 'request:9' where worker_number = 'W-1'");
    });
    planned();
  }

  private void revoke(String entitlement) {
    var una = environment.get(PersonMapper.class).byWorker("W-1");
    environment.transactions.run(() -> {
      var now = environment.clock.instant();
      environment
          .get(Revoking.class)
          .revoke(
              List.of(new Revoking.Taken(una, Set.of(entitlement), Set.of())),
              new Revoking.Decision("too much", "bo", "round:17", now, now),
              now);
    });
    planned();
  }

  private long id(String table) {
    return environment.number("select max(id) from " + table);
  }

  @Test
  void a_joiner_has_what_the_rules_give_because_of_them_and_their_event() {
    assertThat(since("W-1", 0))
        .containsExactly(
            "create birthright:everyone@N joiner",
            "add chartshare/charts birthright:everyone@N joiner",
            "add chartshare/westholm birthright:at-westholm@N joiner");
  }

  @Test
  void what_a_campaign_revoked_follows_from_that_and_no_joiner() {
    revoke("chartshare/westholm");
    assertThat(since("W-1", 3))
        .containsExactly("remove chartshare/westholm revocation:%d -".formatted(id("revocation")));
    assertThat(environment.happened("person:W-1")).contains("revoked");
    var cause = "revocation:" + id("revocation");
    assertThat(environment.get(CauseTexts.class).of(List.of(cause, "hold-over", "standing:left")))
        .containsEntry(cause, "“Westholm's shelf” was revoked by bo: too much")
        .containsEntry("hold-over", "The account's hold is over.")
        .containsEntry("standing:left", "The person has left.");
    assertThat(
            environment.sql.queryForObject(
                "select cause from ledger_entry where what = 'revoked'", String.class))
        .isEqualTo("round:17");
  }

  @Test
  void what_a_request_gives_follows_from_its_line_and_goes_because_its_grant_is_over() {
    give(501, "request", "offer#42", "2027-03-05 06:00:00");
    assertThat(since("W-1", 3)).containsExactly("add chartshare/drawings request-line:42 -");
    environment.at("2027-03-06T06:00:00Z");
    assertThat(since("W-1", 4)).containsExactly("remove chartshare/drawings grant:501 -");
  }

  @Test
  void a_request_that_is_revoked_ends_by_the_revocation() {
    give(502, "request", "offer#43", "2027-04-05 06:00:00");
    revoke("chartshare/drawings");
    revoke("chartshare/charts");
    assertThat(
            environment.sql.queryForObject(
                "select cause from ledger_entry where what = 'grant-ended' and subject = 'person:W-1'",
                String.class))
        .startsWith("revocation:");
  }

  @Test
  void what_is_given_directly_by_a_playbook_or_by_adopting_says_so() {
    give(503, "direct", "run:8", null);
    assertThat(since("W-1", 3)).containsExactly("add chartshare/drawings run:8 -");
    environment.sql.update("update access_grant set ends_at = starts_at where id = 503");
    environment.sql.update("update person set due_at = '2027-03-01' where worker_number = 'W-1'");
    planned();
    give(504, "discovered", "drift:3", null);
    assertThat(since("W-1", 5)).containsExactly("add chartshare/drawings drift:3 -");
  }

  @Test
  void a_mover_gains_and_loses_by_the_rules_and_the_move() {
    environment.load(UNA.replace("Westholm", "Hallow Quay"), BO);
    environment.sent();
    assertThat(since("W-1", 3))
        .containsExactly("remove chartshare/westholm birthright:at-westholm@N mover");
  }

  @Test
  void a_fact_behind_a_mapping_is_a_cause() {
    environment.load(UNA.replace("Deck", "Bridge"), BO);
    environment.sent();
    assertThat(since("W-1", 3)).containsExactly("update facts mover");
  }

  @Test
  void leave_return_and_leaving_are_standings_with_their_events() {
    environment.load(UNA.replace("2020-01-01,,,", "2020-01-01,,2027-03-01,"), BO);
    environment.sent();
    environment.load(UNA, BO);
    environment.sent();
    environment.load(UNA.replace("2020-01-01,,,", "2020-01-01,2027-02-28,,"), BO);
    environment.sent();
    assertThat(since("W-1", 3))
        .startsWith(
            "disable standing:on-leave leave-begins",
            "enable standing:active leave-ends",
            "disable standing:left leaver",
            "remove chartshare/charts standing:left leaver");
    environment.at("2027-04-01T06:00:00Z");
    assertThat(since("W-1", 8)).containsExactly("delete hold-over -");
  }

  @Test
  void a_cut_off_is_one_and_a_return_a_standing() {
    environment.get(CutOffService.class).cutOff("W-1", "asked for", ISA);
    environment.sent();
    assertThat(since("W-1", 3)).startsWith("disable cut-off leaver");
    give(505, "request", "offer#44", "2027-04-05 06:00:00");
    environment.get(CutOffService.class).bringBack("W-1", "it was somebody else", ISA);
    environment.sent();
    assertThat(since("W-1", 6))
        .contains("add chartshare/drawings brought-back:isa -")
        .contains("add chartshare/westholm birthright:at-westholm@N rehire");
  }

  @Test
  void a_changed_definition_is_the_cause_of_what_it_changes() {
    environment.define(
        TestEnvironment.skerryLine()
            .replace(
                "entitlements: [chartshare/westholm]",
                "entitlements: [chartshare/westholm, chartshare/drawings]"),
        true);
    planned();
    assertThat(since("W-1", 3))
        .singleElement()
        .asString()
        .matches("add chartshare/drawings definitions:\\d+ -");
  }
}
