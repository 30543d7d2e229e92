package glenmoor.engine.campaigns;

import glenmoor.engine.EngineTest;
import org.junit.jupiter.api.BeforeEach;

/** A test of campaigns, with what they are begun, looked at and decided by. */
abstract class CampaignTest extends EngineTest {
  CampaignService campaigns;
  CampaignViews views;
  ReviewService reviews;
  ReviewViews mine;
  RoundsFollowed followed;

  @BeforeEach
  final void services() {
    campaigns = environment.get(CampaignService.class);
    views = environment.get(CampaignViews.class);
    reviews = environment.get(ReviewService.class);
    mine = environment.get(ReviewViews.class);
    followed = environment.get(RoundsFollowed.class);
  }

  /** Carries the rounds on until they wait for somebody. */
  final void follow() {
    environment.turns(followed);
  }
}
