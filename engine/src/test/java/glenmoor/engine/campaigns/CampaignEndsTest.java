package glenmoor.engine.campaigns;

import static glenmoor.engine.TestEnvironment.ISA;
import static glenmoor.engine.TestEnvironment.RONA;
import static glenmoor.engine.campaigns.CampaignsTest.BO;
import static glenmoor.engine.campaigns.CampaignsTest.UNA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.core.campaigns.Judgement;
import glenmoor.core.campaigns.Suggestion;
import glenmoor.core.reconcile.DriftSearch;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.access.Revoking;
import glenmoor.engine.campaigns.ReviewService.Decision;
import glenmoor.engine.reconcile.DriftService;
import glenmoor.engine.reconcile.Reconciles;
import java.time.Duration;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What becomes of what was decided, and what is done with what was not. */
class CampaignEndsTest extends CampaignTest {
  private static final String CAL = "W-3,Cal,Ness,Shipyard,Westholm,W-2,2021-01-01,,,";
  private static final Actor CALS = new Actor("cal", "Cal", "W-3", List.of());

  @BeforeEach
  void una_leads_bo_and_bo_leads_cal() {
    environment.define(TestEnvironment.skerryLine(), true);
    environment.load(TestEnvironment.UNA, TestEnvironment.BO, CAL);
    environment.sent();
  }

  /** Puts somebody in a group there, behind Glenmoor's back. */
  private void joined(String group, String user) {
    for (var each : environment.scim("/Groups").path("Resources")) {
      if (each.path("displayName").asString().equals(group)) {
        environment.patch(
            "/Groups/" + each.path("id").asString(),
            "{\"op\":\"add\",\"path\":\"members\",\"value\":[{\"value\":\"%s\"}]}".formatted(user));
      }
    }
  }

  private String state(long round) {
    return views.show(round, ISA).round().state();
  }

  private long manyRevoked() {
    var crew = new ArrayList<>(List.of(TestEnvironment.UNA, TestEnvironment.BO, CAL));
    for (var i = 10; i < 20; i++) {
      crew.add("W-%d,Hand,Nr%d,Deck,Westholm,W-2,2021-01-01,,,".formatted(i, i));
    }
    environment.load(crew.toArray(String[]::new));
    environment.sent();
    environment.define("brake: campaigns\nlosing: 6 or 90 %\n", false);
    var round = launchedRound("reviewers: line-managers\n");
    for (var each : items(round)) {
      if (each.worker().matches("W-1\\d")) {
        decide(BO, REVOKE, each.id());
      } else if (each.worker().equals("W-3")) {
        decide(BO, KEEP, each.id());
      }
    }
    return round;
  }

  @Test
  void a_sign_off_that_takes_from_many_waits_for_somebody_else() {
    var round = manyRevoked();
    var review = item(round, "W-10", "chartshare/charts").review();
    var signed = reviews.signOff(review, BO);
    assertThat(signed.held()).isNotEmpty();
    follow();
    assertThat(environment.groups("W-10")).as("nothing went yet").contains("Charts");
    assertThat(mine.show(review, BO).held()).isEqualTo(signed.held());
    assertThatThrownBy(() -> reviews.signOff(review, BO))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("waits for somebody to release it");
    // What was decided otherwise meanwhile is not what somebody released.
    var one = item(round, "W-10", "chartshare/charts").id();
    reviews.undo(review, List.of(one), BO);
    decide(BO, KEEP, one);
    var change = Long.parseLong(signed.held());
    assertThatThrownBy(() -> environment.held.release(change, "fine", RONA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("changed since");
    environment.held.drop(change, "sign it anew", RONA);
    var anew = Long.parseLong(reviews.signOff(review, BO).held());
    environment.ended(environment.held.release(anew, "they are ashore", RONA));
    follow();
    assertThat(environment.groups("W-11")).isEmpty();
    assertThat(environment.groups("W-10")).containsExactly("Charts");
    assertThat(mine.show(review, ISA).signedOffBy()).isEqualTo("bo");
  }

  @Test
  void what_was_decided_and_not_signed_off_is_under_the_brake_at_the_end_as_well() {
    var round = manyRevoked();
    environment.at("2027-03-20T07:00:00Z");
    follow();
    assertThat(state(round)).isEqualTo("open");
    assertThat(environment.groups("W-11")).isNotEmpty();
    assertThat(environment.held.list("held", Long.MAX_VALUE, 9, ISA)).hasSize(1);
  }

  @Test
  void ending_a_round_by_hand_is_under_the_brake_as_well() {
    var round = manyRevoked();
    var change = Long.parseLong(campaigns.close(round, "enough", ISA).held());
    follow();
    assertThat(state(round)).isEqualTo("open");
    assertThat(environment.groups("W-11")).isNotEmpty();
    assertThatThrownBy(() -> campaigns.close(round, "enough", ISA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("waits for somebody to release it");
    assertThatThrownBy(() -> environment.held.release(change, "mine", ISA))
        .as("nobody releases their own")
        .isInstanceOf(Refused.class);
    environment.ended(environment.held.release(change, "they are ashore", RONA));
    follow();
    assertThat(environment.groups("W-11")).isEmpty();
  }

  private boolean isThere(String id) {
    return environment
        .scim("/Users")
        .path("Resources")
        .valueStream()
        .anyMatch(each -> each.path("id").asString().equals(id));
  }

  private String made(String name) {
    return environment.post(
        "/Users",
        "{\"schemas\":[\"urn:ietf:params:scim:schemas:core:2.0:User\"],\"userName\":\"%s\",\"active\":true}"
            .formatted(name));
  }

  @Test
  void accounts_that_are_nobodys_are_removed_and_seen_to_be() {
    var printer = made("printer");
    var backup = made("backup");
    var stray = made("old");
    var drift = environment.get(DriftService.class);
    environment.ended(environment.get(Reconciles.class).begin("chartshare", ISA));
    drift
        .list(new DriftSearch("chartshare", null, "open", null, null, Long.MAX_VALUE, 9), ISA)
        .stream()
        .filter(each -> !each.accountName().equals("old"))
        .forEach(each ->
            drift.declare(each.id(), "W-2", "it is needed", LocalDate.parse("2028-01-01"), ISA));
    var round = launchedRound("judge: [stray-accounts, service-accounts]\nreviewers: person W-1\n");
    assertThat(items(round))
        .extracting(ItemViews.ItemShown::account)
        .containsExactlyInAnyOrder("printer", "backup", "old");
    for (var each : items(round)) {
      decide(UNA, each.account().equals("backup") ? KEEP : REVOKE, each.id());
    }
    environment.failureMode("{\"mode\":\"down\"}");
    reviews.signOff(items(round).getFirst().review(), UNA);
    var taken = environment.get(NobodysTaken.class);
    taken.take();
    follow();
    assertThat(state(round)).as("nothing is gone yet").isEqualTo("closing");
    environment.failureMode("{\"mode\":\"well\"}");
    taken.take();
    follow();
    assertThat(isThere(printer)).isFalse();
    assertThat(isThere(stray)).isFalse();
    assertThat(isThere(backup)).as("it was kept").isTrue();
    assertThat(drift.serviceAccounts(null, Long.MAX_VALUE, 9, ISA)).hasSize(1);
    assertThat(state(round)).isEqualTo("closed");
  }

  @Test
  void an_application_that_is_away_keeps_the_round_open_until_it_confirms() {
    var round = launchedRound("reviewers: line-managers\n");
    environment.failureMode("{\"mode\":\"down\"}");
    decide(BO, REVOKE, item(round, "W-3", "chartshare/drawings").id());
    decide(BO, KEEP, item(round, "W-3", "chartshare/charts").id());
    decide(BO, KEEP, item(round, "W-3", "chartshare/westholm").id());
    reviews.signOff(mine.mine(BO).getFirst().id(), BO);
    campaigns.close(round, "enough", ISA);
    environment.start();
    environment.agenda.sweep();
    followed.carryOut();
    environment.agenda.sweep();
    followed.carryOut();
    assertThat(state(round)).isEqualTo("closing");
    assertThat(views.show(round, ISA).following()).isNotEmpty();
    assertThat(item(round, "W-3", "chartshare/drawings").state()).isEqualTo("removing");
    environment.failureMode("{\"mode\":\"well\"}");
    environment.at("2027-03-03T06:00:00Z");
    follow();
    assertThat(environment.groups("W-3")).doesNotContain("Slip drawings");
    assertThat(state(round)).isEqualTo("closed");
  }

  @Test
  void what_is_suggested_to_go_is_kept_only_with_a_reason_and_careful_ones_only_once_opened() {
    environment.define(
        "entitlement: chartshare/drawings\nname: Slip drawings\ntechnical: Slip drawings\nrisk: critical\n",
        false);
    environment.sql.update(
        "delete from access_grant where target_key = 'start-kit' and person_id = (select id from person where worker_number = 'W-3')");
    var round = launchedRound("reviewers: line-managers\n");
    var charts = item(round, "W-3", "chartshare/charts");
    var drawings = item(round, "W-3", "chartshare/drawings");
    assertThat(drawings.suggestion()).isEqualTo("look");
    assertThat(drawings.privileged()).isTrue();
    var review = charts.review();
    var all =
        items(round).stream()
            .filter(each -> each.review() == review)
            .map(ItemViews.ItemShown::id)
            .toList();
    var judged = reviews.decide(review, all, KEEP, null, BO);
    assertThat(judged.decided()).doesNotContain(drawings.id());
    assertThat(judged.left().keySet()).anyMatch(each -> each.contains("open it before"));
    reviews.open(drawings.id(), BO);
    assertThat(reviews.decide(review, all, KEEP, null, BO).decided()).contains(drawings.id());
  }

  @Test
  void a_second_look_is_by_somebody_else_and_what_they_leave_stands_as_it_was_first() {
    environment.define("team: desk\nname: Desk\nmembers: [W-1, W-2]\n", false);
    var round = launchedRound("reviewers: line-managers\nsecond: team desk\n");
    var cals = items(round).stream().filter(each -> each.worker().equals("W-3")).toList();
    decide(BO, REVOKE, cals.get(0).id());
    decide(BO, KEEP, cals.get(1).id(), cals.get(2).id());
    assertThat(reviews.signOff(cals.getFirst().review(), BO).second()).isTrue();
    follow();
    assertThat(environment.groups("W-3")).as("nothing goes before the second look").hasSize(3);
    var second = item(round, "W-3", cals.get(0).target());
    assertThat(second.first()).isEqualTo("revoke");
    assertThatThrownBy(() -> decide(BO, KEEP, second.id()))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("does not look a second time");
    decide(UNA, KEEP, cals.get(1).id());
    environment.at("2027-03-16T06:00:00Z");
    follow();
    assertThat(item(round, "W-3", cals.get(0).target()).state()).isEqualTo("gone");
    assertThat(item(round, "W-3", cals.get(2).target()).state()).isEqualTo("kept");
    assertThat(environment.groups("W-3")).hasSize(2);
  }

  @Test
  void a_holder_who_needs_it_is_heard_before_it_goes() {
    var round = launchedRound("reviewers: line-managers\nanswer: 3 days\n");
    var cals = items(round).stream().filter(each -> each.worker().equals("W-3")).toList();
    for (var each : cals) {
      decide(BO, REVOKE, each.id());
    }
    reviews.signOff(cals.getFirst().review(), BO);
    follow();
    assertThat(environment.groups("W-3")).hasSize(3);
    assertThat(mine.announced(CALS)).hasSize(3);
    assertThatThrownBy(() -> reviews.answer(cals.get(0).id(), "mine", BO))
        .isInstanceOf(Refused.class);
    reviews.answer(cals.get(0).id(), "I chart with it", CALS);
    reviews.answer(cals.get(1).id(), "and this", CALS);
    environment.at("2027-03-05T06:00:00Z");
    follow();
    assertThat(environment.groups("W-3")).as("two answers wait").hasSize(2);
    assertThatThrownBy(
            () -> reviews.settleAnswer(cals.get(0).id(), new Decision(Judgement.KEEP, "x"), CALS))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("reviewer settles it");
    reviews.settleAnswer(cals.get(0).id(), new Decision(Judgement.KEEP, "she does"), BO);
    reviews.settleAnswer(cals.get(1).id(), new Decision(Judgement.REVOKE, "no"), BO);
    follow();
    assertThat(item(round, "W-3", cals.get(0).target()).state()).isEqualTo("kept");
    assertThat(item(round, "W-3", cals.get(1).target()).state()).isEqualTo("gone");
    assertThat(environment.groups("W-3")).hasSize(1);
  }

  @Test
  void what_somebody_decides_anew_in_between_is_no_revocation_that_hangs() {
    var round = launchedRound("reviewers: line-managers\n");
    var drawings = item(round, "W-3", "chartshare/drawings");
    decide(BO, REVOKE, drawings.id());
    decide(BO, KEEP, item(round, "W-3", "chartshare/charts").id());
    decide(BO, KEEP, item(round, "W-3", "chartshare/westholm").id());
    reviews.signOff(drawings.review(), BO);
    follow();
    assertThat(item(round, "W-3", "chartshare/drawings").state()).isEqualTo("gone");
    // Agreed to anew, it is given again; a rule alone would not have.
    give(901, "W-3", "entitlement", "chartshare/drawings", "2027-03-01 06:00:01");
    environment.at("2027-03-01T06:10:00Z");
    assertThat(environment.groups("W-3")).contains("Slip drawings");
    assertThat(item(round, "W-3", "chartshare/drawings").state()).isEqualTo("gone");
  }

  @Test
  void packages_and_accounts_go_as_a_whole() {
    give(902, "W-1", "package", "shipyard", "2027-02-01 06:00:00");
    var round =
        launchedRound("judge: [packages, accounts]\nreviewers: leads\notherwise: person W-2\n");
    assertThat(items(round)).extracting(ItemViews.ItemShown::kind).contains("package", "account");
    // Nobody leads it but the administrators, who are no people here: it goes on by the closing
    // rule.
    var una = item(round, "W-1", "shipyard");
    assertThat(una.why()).contains("asked for");
    campaigns.close(round, "enough", ISA);
    follow();
    for (var worker : List.of("W-1", "W-2", "W-3")) {
      assertThat(environment.groups(worker)).as(worker).isEmpty();
    }
    assertThat(items(round)).allMatch(each -> each.state().equals("gone"));
    assertThat(state(round)).isEqualTo("closed");
  }

  @Test
  void what_is_there_and_nothing_gives_is_taken_all_the_same() {
    // Found there, and neither planned nor given: drift that nobody has answered.
    environment.transactions.run(() ->
        environment.sql.update(
            "insert into holding (account_id, entitlement, desired, observed, observed_since) select a.id, 'chartshare/drawings', 0, 1, '2027-01-01' from account a join person p on p.id = a.person_id where p.worker_number = 'W-1'"));
    joined("Slip drawings", environment.user("W-1").path("id").asString());
    assertThat(environment.groups("W-1")).contains("Slip drawings");
    var round = launchedRound("reviewers: leads\nholdings: size(holding.basis) == 0\n");
    assertThat(items(round))
        .singleElement()
        .satisfies(each -> {
          assertThat(each.suggestion()).isEqualTo("revoke");
          assertThat(each.reasons().getFirst()).contains("Nothing explains it");
        });
    campaigns.close(round, "enough", ISA);
    follow();
    assertThat(environment.groups("W-1")).doesNotContain("Slip drawings");
    assertThat(state(round)).isEqualTo("closed");
  }

  @Test
  void whoever_moves_has_what_they_had_before_judged_by_their_manager_within_its_days() {
    environment.define(
        "campaign: movers\nreviewers: line-managers\non-move: yes\ndays: 14 days\n", false);
    followed.carryOut();
    give(903, "W-3", "package", "shipyard", "2027-02-01 06:00:00");
    environment.load(
        TestEnvironment.UNA, TestEnvironment.BO, "W-3,Cal,Ness,Deck,Westholm,W-2,2021-01-01,,,");
    environment.agenda.sweep();
    environment.sent();
    followed.carryOut();
    TestEnvironment.eventually(() -> {
      followed.carryOut();
      return !followed.busy();
    });
    var rounds = views.rounds("movers", null, Long.MAX_VALUE, 10, ISA);
    assertThat(rounds)
        .singleElement()
        .satisfies(each -> {
          assertThat(each.about()).contains("Cal");
          assertThat(each.state()).isEqualTo("open");
        });
    var round = rounds.getFirst().id();
    assertThat(items(round)).extracting(ItemViews.ItemShown::worker).containsOnly("W-3");
    environment.at("2027-03-16T06:00:00Z");
    follow();
    assertThat(state(round)).isEqualTo("closed");
    assertThat(environment.groups("W-3")).isEmpty();
    followed.carryOut();
    assertThat(views.rounds("movers", null, Long.MAX_VALUE, 10, ISA)).hasSize(1);
  }

  @Test
  void a_rhythm_begins_rounds_by_itself_and_a_service_that_died_begins_none_twice() {
    environment.define(
        "campaign: monthly\nreviewers: line-managers\nrhythm: monthly\ndays: 7 days\nclosing: keep\n",
        false);
    followed.carryOut();
    environment.at("2027-05-20T06:00:00Z");
    var rounds = views.rounds("monthly", null, Long.MAX_VALUE, 10, ISA);
    assertThat(rounds).hasSize(2).allMatch(each -> each.state().equals("closed"));
    var second = views.show(rounds.getFirst().id(), ISA);
    assertThat(second.before()).isEqualTo(rounds.getLast().id());
    assertThat(second.compared().stayed()).isEqualTo(second.round().items());
    assertThat(items(second.round().id())).allMatch(each -> each.before().equals("keep"));
    // Launched once more for the same day, as by a second service.
    assertThatThrownBy(() ->
            environment.sql.update(
                "update campaign_round set occasion = 'rhythm:2027-04-01' where id = ?",
                second.round().id()))
        .hasMessageContaining("Duplicate");
  }

  @Test
  void a_launch_that_died_is_done_again_and_nothing_twice() {
    environment.define("campaign: round\nreviewers: line-managers\n", false);
    environment.queue.die();
    var begun = campaigns.launch("round", ISA);
    environment.sql.update(
        "insert into campaign_item (round_id, reviewer_id, kind, target_key, application) values (?, 1, 'entitlement', 'chartshare/charts', 'chartshare')",
        begun.round());
    environment.queue.takeUp(begun.work());
    assertThat(environment.ended(begun.work()).state()).isEqualTo("done");
    var keys = new HashSet<String>();
    assertThat(items(begun.round())).allMatch(each -> keys.add(each.worker() + each.target()));
  }

  @Test
  void every_item_ends_in_one_decision_and_what_was_revoked_stays_gone() {
    var random = new Random(17);
    for (var run = 0; run < 3; run++) {
      // What was revoked in the rounds before stays so, but for what is decided on again.
      environment.at(environment.clock.instant().plus(Duration.ofHours(1)).toString());
      var now = environment.clock.instant().toString().replace('T', ' ').replace("Z", "");
      var id = 1_000L + 10 * run;
      for (var target : List.of("charts", "westholm", "drawings")) {
        give(id++, "W-1", "entitlement", "chartshare/" + target, now);
        give(id++, "W-3", "entitlement", "chartshare/" + target, now);
      }
      var round =
          launchedRound(
              "reviewers: line-managers\nclosing: %s\n"
                  .formatted(List.of("revoke", "keep").get(run % 2)));
      for (var item : items(round)) {
        for (var actor : List.of(UNA, BO)) {
          try {
            decide(
                actor,
                random.nextBoolean() ? REVOKE : new Decision(Judgement.KEEP, "yes"),
                item.id());
            if (random.nextInt(3) == 0) {
              reviews.undo(item.review(), List.of(item.id()), actor);
            }
          } catch (Refused notTheirs) {
            // Whoever may not, changes nothing.
          }
        }
      }
      environment.at(environment.clock.instant().plus(Duration.ofDays(16)).toString());
      follow();
      assertThat(state(round)).isEqualTo("closed");
      var all = items(round);
      assertThat(all)
          .allMatch(each ->
              each.judgement().equals("keep") && each.state().equals("kept")
                  || each.judgement().equals("revoke")
                      && List.of("gone", "again").contains(each.state())
                  || each.state().equals("ended"));
      assertThat(
              environment.number(
                  "select count(*) from campaign_item where round_id = "
                      + round
                      + " and over_at is null"))
          .isZero();
      for (var each : all) {
        if (each.state().equals("gone")) {
          assertThat(
                  environment.number(
                      "select count(*) from holding h join account a on a.id = h.account_id join person p on p.id = a.person_id where p.worker_number = '%s' and h.entitlement = '%s' and (h.desired or h.observed)"
                          .formatted(each.worker(), each.target())))
              .isZero();
        }
      }
    }
    assertThat(environment.number("select count(*) from revocation")).isPositive();
    assertThat(environment.get(Revoking.class)).isNotNull();
  }

  @Test
  void what_the_database_suggests_is_what_the_stated_rules_say() {
    environment.define(
        "entitlement: chartshare/charts\nname: Charts\ntechnical: Charts\nrisk: high\n", false);
    var round = launchedRound("reviewers: line-managers\npeers: [department]\n");
    for (var item : items(round)) {
      var kept = environment.number("select suggestion from campaign_item where id = " + item.id());
      assertThat(Suggestion.What.values()[(int) kept].word())
          .as(item.name())
          .isEqualTo(item.suggestion());
      assertThat(item.peers()).isNotNull();
    }
  }
}
