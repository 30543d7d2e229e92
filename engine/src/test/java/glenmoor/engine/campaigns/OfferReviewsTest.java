package glenmoor.engine.campaigns;

import static glenmoor.engine.TestEnvironment.ISA;
import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.core.authorization.Scope;
import glenmoor.core.campaigns.ItemSearch;
import glenmoor.core.campaigns.Judgement;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.campaigns.ReviewService.Decision;
import glenmoor.engine.requests.DirectGrants;
import glenmoor.engine.requests.DirectGrants.Giving;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What an offer gave is looked through in the rhythm that the offer names. */
class OfferReviewsTest extends CampaignTest {
  private static final String OFFERS =
      """
      portfolio: deck
      entitlements: [chartshare/charts, chartshare/westholm, chartshare/drawings]
      ---
      package: lookout
      name: Lookout
      portfolio: deck
      entitlements: [chartshare/westholm, chartshare/drawings]
      ---
      route: manager
      stages:
      - ask: line-manager
      ---
      offer: lookout
      package: lookout
      portfolio: deck
      route: manager
      direct: yes
      term: open
      reason: optional
      review: quarterly
      ---
      offer: lookout-at-night
      package: lookout
      portfolio: deck
      route: manager
      direct: yes
      term: open
      reason: optional
      """;

  private static final Assignment OF_THE_DECK =
      new Assignment(Duty.STEWARD, Scope.portfolio("deck"), null, null);
  private static final Actor STEWARD = new Actor("steward", "Steward", "W-1", List.of(OF_THE_DECK));

  @BeforeEach
  void two_have_it_by_different_offers() {
    environment.define(
        TestEnvironment.skerryLine().replace("where: 'true'", "where: 'false'")
            + "\n---\n"
            + OFFERS,
        true);
    environment.load(
        TestEnvironment.UNA,
        "W-2,Bo,Tarn,Deck,Tarn Point,W-1,2021-05-01,,,",
        "W-3,Cal,Ness,Deck,Tarn Point,W-1,2021-01-01,,,");
    environment.sent();
    environment.signIns.put(
        "steward", "Steward", "W-1", "harbour lights", true, List.of(OF_THE_DECK), ISA);
    var direct = environment.get(DirectGrants.class);
    direct.give(giving("lookout", "W-2"), STEWARD);
    direct.give(giving("lookout-at-night", "W-3"), STEWARD);
    environment.agenda.sweep();
    environment.sent();
    followed.carryOut();
  }

  private Giving giving(String offer, String worker) {
    return new Giving(offer, worker, null, null, Map.of(), "they stand lookout");
  }

  @Test
  void the_stewards_judge_what_the_offer_gave_and_nothing_else() {
    assertThat(views.list(ISA)).extracting(each -> each.key()).containsExactly("offer.lookout");
    var ended =
        environment.ended(environment.get(CampaignService.class).rehearse("offer.lookout", ISA));
    assertThat(ended.result()).contains("\"items\":1").contains("\"warnings\":[]");
    environment.at("2027-04-01T06:00:00Z");
    follow();
    var round = views.rounds("offer.lookout", null, Long.MAX_VALUE, 10, ISA).getFirst();
    assertThat(round.items()).isEqualTo(1);
    var review = mine.mine(STEWARD).getFirst();
    var items = mine.items(review.id(), ItemSearch.of(review.id(), 0, null, null, 0, 10), STEWARD);
    assertThat(items).extracting(ItemViews.ItemShown::worker).containsExactly("W-2");
    reviews.decide(
        review.id(),
        List.of(items.getFirst().id()),
        new Decision(Judgement.REVOKE, "ashore now"),
        null,
        STEWARD);
    reviews.signOff(review.id(), STEWARD);
    follow();
    assertThat(environment.groups("W-2")).doesNotContain("Slip drawings");
    assertThat(environment.groups("W-3")).contains("Slip drawings");
    follow();
    assertThat(views.show(round.id(), ISA).round().state()).isEqualTo("closed");
  }

  @Test
  void an_offer_that_is_taken_back_ends_its_round_when_that_is_due() {
    environment.at("2027-04-01T06:00:00Z");
    follow();
    var round = views.rounds("offer.lookout", null, Long.MAX_VALUE, 10, ISA).getFirst();
    environment.define(
        TestEnvironment.skerryLine().replace("where: 'true'", "where: 'false'")
            + "\n---\n"
            + OFFERS.replace("review: quarterly\n", ""),
        true);
    follow();
    assertThat(views.list(ISA)).isEmpty();
    assertThat(views.show(round.id(), ISA).round().state()).isEqualTo("open");
    environment.at("2027-04-16T07:00:00Z");
    follow();
    assertThat(views.show(round.id(), ISA).round().state()).isEqualTo("closed");
    assertThat(environment.groups("W-2")).doesNotContain("Slip drawings");
  }
}
