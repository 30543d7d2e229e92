package glenmoor.engine.campaigns;

import static glenmoor.engine.TestEnvironment.ISA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.core.campaigns.ItemSearch;
import glenmoor.core.campaigns.Judgement;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.campaigns.ReviewService.Decision;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.json.JsonMapper;

/** A round from its rehearsal to its end. */
class CampaignsTest extends CampaignTest {
  private static final String ALL_ACCESS =
      """
      campaign: all-access
      name: All access
      reviewers: line-managers
      days: 14 days
      """;

  static final Actor UNA = new Actor("una", "Una", "W-1", List.of());
  static final Actor BO = new Actor("bo", "Bo", "W-2", List.of());
  private static final Decision KEEP = new Decision(Judgement.KEEP, "");
  private static final Decision REVOKE = new Decision(Judgement.REVOKE, "not needed");

  @BeforeEach
  void una_manages_bo() {
    environment.define(TestEnvironment.skerryLine(), true);
    environment.define(ALL_ACCESS, false);
    environment.load(TestEnvironment.UNA, TestEnvironment.BO);
    environment.sent();
  }

  private long launched(String key) {
    var begun = campaigns.launch(key, ISA);
    var ended = environment.ended(begun.work());
    assertThat(ended.state()).as(ended.sentence()).isEqualTo("done");
    return begun.round();
  }

  static ItemSearch all() {
    return ItemSearch.of(null, 0, null, null, 0, 100);
  }

  private List<ItemViews.ItemShown> items(long review, Actor actor) {
    var search = ItemSearch.of(review, 0, null, null, 0, 100);
    return mine.items(review, search, actor);
  }

  @Test
  void a_rehearsal_says_what_would_be_asked_of_whom_and_leaves_nothing() {
    var ended = environment.ended(campaigns.rehearse("all-access", ISA));
    assertThat(ended.state()).as(ended.sentence()).isEqualTo("done");
    var rehearsal =
        JsonMapper.shared().readValue(ended.result(), Rehearsed.CampaignRehearsal.class);
    assertThat(rehearsal.items()).isEqualTo(4);
    assertThat(rehearsal.people()).isEqualTo(2);
    assertThat(rehearsal.nobodys()).as("una's own have nobody").isEqualTo(2);
    assertThat(rehearsal.loads()).extracting(Rehearsed.ReviewerLoad::items).containsExactly(2, 2);
    assertThat(rehearsal.warnings()).anyMatch(each -> each.contains("leaves nothing out"));
    assertThat(environment.number("select count(*) from campaign_item")).isZero();
    assertThat(environment.number("select count(*) from campaign_round")).isZero();
    assertThat(environment.number("select count(*) from campaign_reviewer")).isZero();
  }

  @Test
  void what_is_revoked_goes_and_the_round_closes_once_that_is_seen() {
    var round = launched("all-access");
    var review = mine.mine(UNA).getFirst();
    assertThat(review.mix().undecided()).isEqualTo(2);
    var items = items(review.id(), UNA);
    assertThat(items)
        .extracting(ItemViews.ItemShown::target)
        .containsExactly("chartshare/charts", "chartshare/drawings");
    assertThat(items).allMatch(each -> each.suggestion().equals("keep"));
    assertThatThrownBy(() -> reviews.signOff(review.id(), UNA))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("2 items are undecided");
    reviews.decide(review.id(), List.of(items.get(0).id()), KEEP, null, UNA);
    reviews.decide(review.id(), List.of(items.get(1).id()), REVOKE, null, UNA);
    var would = mine.wouldGo(review.id(), UNA);
    assertThat(would.items()).isEqualTo(1);
    assertThat(would.stays()).extracting(ReviewViews.Goes::name).containsExactly("Shipyard");
    reviews.signOff(review.id(), UNA);
    follow();
    assertThat(environment.groups("W-2")).containsExactly("Charts");
    assertThat(views.show(round, ISA).states()).containsEntry("gone", 1).containsEntry("kept", 1);
    // Una's own wait for those who lead; at the end the closing rule revokes them.
    environment.at("2027-03-15T07:00:00Z");
    follow();
    assertThat(views.show(round, ISA).round().state()).isEqualTo("closed");
    assertThat(environment.groups("W-1")).isEmpty();
    // No rule gives it back, whatever happens to them.
    environment.load(TestEnvironment.UNA, "W-2,Bo,Tarn,Deck,Westholm,W-1,2021-05-01,,,");
    environment.load(TestEnvironment.UNA, TestEnvironment.BO);
    environment.at("2027-04-15T07:00:00Z");
    assertThat(environment.groups("W-2")).containsExactly("Charts");
    assertThat(environment.groups("W-1")).isEmpty();
  }

  /** Bo leads Cal, Una leads Bo; Una has nobody above. */
  @Test
  void what_was_signed_stands_when_somebody_is_erased_from_it_and_only_then() {
    var round = launched("all-access");
    var review = mine.mine(UNA).getFirst().id();
    var ids = items(review, UNA).stream().map(ItemViews.ItemShown::id).toList();
    reviews.decide(review, ids, new Decision(Judgement.REVOKE, "Bo Tarn has gone"), null, UNA);
    reviews.signOff(review, UNA);
    assertThat(stands(round)).isTrue();
    var erase = "update campaign_item set reason = 'W-2 has gone', account = '' where reason != ''";
    environment.transactions.run(() -> environment.sql.update(erase));
    assertThat(stands(round)).as("changed by somebody").isFalse();
    environment.transactions.run(() ->
        environment.sql.update(
            "update campaign_item set reason = 'Bo Tarn has gone', account = 'tarnb' where reason != ''"));
    assertThat(stands(round)).as("as it was").isTrue();
    environment.transactions.run(() -> {
      environment.get(SignedItems.class).keep(ids);
      environment.sql.update(erase);
    });
    assertThat(stands(round)).as("erased").isTrue();
  }

  private boolean stands(long round) {
    return environment.get(RoundReports.class).of(round, ISA).signed().stream()
        .filter(each -> !each.digest().isEmpty())
        .allMatch(RoundReports.Signed::stands);
  }

  private void cal_works_for_bo() {
    environment.load(
        TestEnvironment.UNA,
        TestEnvironment.BO,
        "W-3,Cal,Ness,Shipyard,Westholm,W-2,2021-01-01,,,");
    environment.sent();
  }

  private static Actor actor(String login, String worker) {
    return new Actor(login, login, worker, List.of());
  }

  private long review(Actor actor) {
    return mine.mine(actor).getFirst().id();
  }

  private static void refused(
      org.assertj.core.api.ThrowableAssert.ThrowingCallable call, String says) {
    assertThatThrownBy(call).isInstanceOf(Refused.class).hasMessageContaining(says);
  }

  @Test
  void nobody_judges_what_is_not_theirs_their_own_or_over() {
    cal_works_for_bo();
    var round = launched("all-access");
    var una = review(UNA);
    var bo = review(BO);
    var calls = items(bo, BO);
    assertThat(calls).allMatch(each -> each.worker().equals("W-3"));
    // Somebody else's review is not there for those whom it does not concern.
    refused(
        () -> reviews.decide(bo, List.of(calls.getFirst().id()), KEEP, null, actor("cal", "W-3")),
        "no review");
    refused(() -> mine.items(bo, all(), actor("cal", "W-3")), "no review");
    refused(
        () -> reviews.decide(bo, List.of(calls.getFirst().id()), KEEP, null, actor("out", null)),
        "no review");
    // An item of another review cannot be judged in one's own.
    refused(() -> reviews.decide(una, List.of(calls.getFirst().id()), KEEP, null, UNA), "no item");
    refused(
        () -> reviews.passOn(una, List.of(calls.getFirst().id()), "W-1", "mine", UNA), "no item");
    // Who sees the campaign looks, and does not judge.
    refused(
        () -> reviews.decide(bo, List.of(calls.getFirst().id()), KEEP, null, ISA),
        "Only its reviewer");
    assertThat(mine.items(bo, all(), ISA)).isNotNull();
    // Nobody is given what they hold themselves.
    refused(
        () -> reviews.passOn(bo, List.of(calls.getFirst().id()), "W-3", "you know best", BO),
        "nobody judges what they hold");
    refused(() -> campaigns.reassign(bo, "W-99", "x", ISA), "nobody here");
    // Given to Cal, Cal's own go up to Bo again.
    campaigns.reassign(bo, "W-3", "Bo is busy", ISA);
    assertThat(items(bo, BO)).hasSize(calls.size());
    refused(() -> campaigns.remind(round, BO), "no round");
    refused(() -> campaigns.launch("all-access", BO), "may not");
    campaigns.close(round, "enough", ISA);
    refused(() -> reviews.decide(bo, List.of(calls.getFirst().id()), KEEP, null, BO), "is over");
    refused(() -> reviews.undo(bo, List.of(calls.getFirst().id()), BO), "is over");
    refused(() -> reviews.signOff(bo, BO), "is over");
    refused(
        () -> campaigns.extend(round, java.time.LocalDate.parse("2027-05-01"), "x", ISA),
        "is closing");
  }

  @Test
  void one_round_of_a_campaign_goes_on_and_an_empty_scope_is_refused() {
    launched("all-access");
    refused(() -> campaigns.launch("all-access", ISA), "goes on since");
    environment.define(
        """
        campaign: nobody
        people: person.department == "Nowhere"
        reviewers: leads
        """,
        false);
    var begun = campaigns.launch("nobody", ISA);
    var ended = environment.ended(begun.work());
    assertThat(ended.state()).isEqualTo("refused");
    assertThat(ended.sentence()).contains("Nothing is in its scope");
    assertThat(views.show(begun.round(), ISA).round().state()).isEqualTo("dropped");
    assertThat(
            environment.number(
                "select count(*) from campaign_item where round_id = " + begun.round()))
        .isZero();
    // What was dropped does not stand in the way of the next one.
    assertThat(environment.ended(campaigns.launch("nobody", ISA).work()).sentence())
        .contains("Nothing is in its scope");
  }

  @Test
  void a_round_can_be_dropped_until_somebody_has_signed_off() {
    var round = launched("all-access");
    var una = review(UNA);
    var ids = items(una, UNA).stream().map(ItemViews.ItemShown::id).toList();
    reviews.decide(una, ids, REVOKE, null, UNA);
    campaigns.drop(round, "a mistake", ISA);
    refused(() -> reviews.signOff(una, UNA), "is over");
    follow();
    assertThat(environment.groups("W-2")).containsExactlyInAnyOrder("Charts", "Slip drawings");
    var next = launched("all-access");
    var again = review(UNA);
    reviews.decide(
        again, items(again, UNA).stream().map(ItemViews.ItemShown::id).toList(), KEEP, null, UNA);
    reviews.signOff(again, UNA);
    refused(() -> campaigns.drop(next, "a mistake", ISA), "close it instead");
    refused(() -> reviews.signOff(again, UNA), "was signed off");
  }

  @Test
  void a_decision_by_somebody_who_looked_before_another_decided_is_told() {
    environment.define(
        "team: desk\nname: Desk\nmembers: [W-1, W-2]\n---\ncampaign: desk\nreviewers: team desk\n",
        false);
    cal_works_for_bo();
    launched("desk");
    var review = review(UNA);
    assertThat(review(BO)).isEqualTo(review);
    var one =
        items(review, UNA).stream()
            .filter(each -> each.worker().equals("W-3"))
            .findFirst()
            .orElseThrow();
    reviews.decide(review, List.of(one.id()), KEEP, one.revision(), BO);
    refused(
        () -> reviews.decide(review, List.of(one.id()), REVOKE, one.revision(), UNA),
        "bo decided on it meanwhile: keep");
    // Each of the team judges the other's.
    var unas = items(review, UNA).stream().filter(each -> each.worker().equals("W-1")).toList();
    refused(
        () -> reviews.decide(review, List.of(unas.getFirst().id()), KEEP, null, UNA),
        "Nobody judges what they hold");
    assertThat(
            reviews
                .decide(review, unas.stream().map(ItemViews.ItemShown::id).toList(), KEEP, null, BO)
                .decided())
        .hasSize(unas.size());
  }

  @Test
  void what_ends_by_itself_says_so_and_is_nobodys_to_judge() {
    var round = launched("all-access");
    var una = review(UNA);
    environment.load(TestEnvironment.UNA, "W-2,Bo,Tarn,Deck,Hallow Quay,W-1,2021-05-01,,,");
    environment.at("2027-03-07T06:00:00Z");
    followed.carryOut();
    var drawings =
        items(una, UNA).stream()
            .filter(each -> each.target().equals("chartshare/drawings"))
            .findFirst()
            .orElseThrow();
    assertThat(drawings.state()).isEqualTo("ended");
    refused(() -> reviews.decide(una, List.of(drawings.id()), KEEP, null, UNA), "ended by itself");
    reviews.decide(
        una,
        items(una, UNA).stream()
            .filter(each -> each.state().equals("undecided"))
            .map(ItemViews.ItemShown::id)
            .toList(),
        KEEP,
        null,
        UNA);
    reviews.signOff(una, UNA);
    assertThat(views.show(round, ISA).mix().ended()).isEqualTo(1);
  }

  @Test
  void whoever_leaves_while_it_runs_is_stood_in_for_at_once() {
    cal_works_for_bo();
    var round = launched("all-access");
    var bo = review(BO);
    var cals = items(bo, BO).size();
    environment.load(
        TestEnvironment.UNA,
        "W-2,Bo,Tarn,Shipyard,Hallow Quay,W-1,2021-05-01,2027-03-01,,",
        "W-3,Cal,Ness,Shipyard,Westholm,W-2,2021-01-01,,,");
    environment.at("2027-03-02T06:00:00Z");
    followed.carryOut();
    refused(() -> mine.items(bo, all(), BO), "no review");
    assertThat(items(bo, UNA)).hasSize(cals);
    assertThat(mine.mine(UNA)).extracting(ReviewViews.ReviewShown::id).contains(bo);
    assertThat(views.show(round, ISA).reviewers())
        .anyMatch(each -> each.review() == bo && each.reviewer().contains("Una"));
  }

  @Test
  void what_many_would_lose_because_nobody_decided_waits_for_a_release() {
    environment.define("brake: campaigns\nlosing: 1 or 1 %\n", false);
    cal_works_for_bo();
    var round = launched("all-access");
    environment.at("2027-03-15T07:00:00Z");
    follow();
    assertThat(views.show(round, ISA).round().state()).isEqualTo("open");
    assertThat(environment.groups("W-3")).isNotEmpty();
    var held = environment.held.list("held", Long.MAX_VALUE, 10, ISA).getFirst();
    assertThat(held.sentence()).contains("would lose access");
    followed.carryOut();
    assertThat(environment.held.list("held", Long.MAX_VALUE, 10, ISA)).hasSize(1);
    var released = environment.ended(environment.held.release(held.id(), "they were told", ISA));
    assertThat(released.state()).as(released.sentence()).isEqualTo("done");
    follow();
    assertThat(environment.groups("W-3")).isEmpty();
    assertThat(views.show(round, ISA).round().state()).isEqualTo("closed");
  }
}
