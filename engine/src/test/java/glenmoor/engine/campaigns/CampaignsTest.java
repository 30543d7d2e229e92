package glenmoor.engine.campaigns;

import static glenmoor.engine.TestEnvironment.ISA;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import glenmoor.core.authorization.Actor;
import glenmoor.core.campaigns.ItemSearch;
import glenmoor.core.campaigns.Judgement;
import glenmoor.engine.EngineTest;
import glenmoor.engine.Refused;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.campaigns.ReviewService.Decision;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.json.JsonMapper;

/** A round from its rehearsal to its end. */
class CampaignsTest extends EngineTest {
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

  private CampaignService campaigns;
  private CampaignViews views;
  private ReviewService reviews;
  private ReviewViews mine;
  private RoundsFollowed followed;

  @BeforeEach
  void una_manages_bo() {
    environment.define(TestEnvironment.skerryLine(), true);
    environment.define(ALL_ACCESS, false);
    environment.load(TestEnvironment.UNA, TestEnvironment.BO);
    environment.sent();
    campaigns = environment.get(CampaignService.class);
    views = environment.get(CampaignViews.class);
    reviews = environment.get(ReviewService.class);
    mine = environment.get(ReviewViews.class);
    followed = environment.get(RoundsFollowed.class);
  }

  private long launched(String key) {
    var begun = campaigns.launch(key, ISA);
    var ended = environment.ended(begun.work());
    assertThat(ended.state()).as(ended.sentence()).isEqualTo("done");
    return begun.round();
  }

  static ItemSearch all() {
    return new ItemSearch(
        0, null, null, null, null, null, null, null, false, false, false, false, "", 0, 100);
  }

  private List<ItemViews.ItemShown> items(long review, Actor actor) {
    var search =
        new ItemSearch(
            0, review, null, null, null, null, null, null, false, false, false, false, "", 0, 100);
    return mine.items(review, search, actor);
  }

  private void follow() {
    environment.agenda.sweep();
    environment.sent();
    followed.carryOut();
    environment.agenda.sweep();
    environment.sent();
    followed.carryOut();
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
}
