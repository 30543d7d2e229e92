package glenmoor.engine.campaigns;

import static glenmoor.engine.TestEnvironment.ISA;
import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.authorization.Actor;
import glenmoor.core.campaigns.ItemSearch;
import glenmoor.core.campaigns.Judgement;
import glenmoor.engine.EngineTest;
import glenmoor.engine.campaigns.ReviewService.Decision;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;

/** A test of campaigns, with what they are begun, looked at and decided by. */
abstract class CampaignTest extends EngineTest {
  static final Decision KEEP = new Decision(Judgement.KEEP, "");
  static final Decision REVOKE = new Decision(Judgement.REVOKE, "not needed");

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

  final long launchedRound(String definition) {
    environment.define("campaign: round\n" + definition, false);
    var begun = campaigns.launch("round", ISA);
    var ended = environment.ended(begun.work());
    assertThat(ended.state()).as(ended.sentence()).isEqualTo("done");
    return begun.round();
  }

  final List<ItemViews.ItemShown> items(long round) {
    return views.items(round, ItemSearch.of(null, round, null, null, 0, 200), ISA);
  }

  final ItemViews.ItemShown item(long round, String worker, String target) {
    return items(round).stream()
        .filter(each -> each.worker().equals(worker) && each.target().equals(target))
        .findFirst()
        .orElseThrow();
  }

  final void decide(Actor actor, Decision decision, long... items) {
    for (var item : items) {
      reviews.decide(mine.item(item, actor).item().review(), List.of(item), decision, null, actor);
    }
  }

  /** Gives somebody something as a decision would. */
  final void give(long id, String worker, String kind, String key, String startsAt) {
    // In a transaction of the engine's, which says what time it is: what is written beside it bears
    // the time of whatever its connection did last, and may not be there yet at a launch.
    environment.transactions.run(() -> {
      environment.sql.update(
          "insert into access_grant (id, person_id, target_kind, target_key, basis, basis_key, decided_at, starts_at, ends_at, end_reason) select ?, id, ?, ?, 'request', ?, ?, ?, null, '' from person where worker_number = ?",
          id,
          kind,
          key,
          "offer#" + id,
          startsAt,
          startsAt,
          worker);
      environment.sql.update(
          "update person set due_at = ? where worker_number = ?", startsAt, worker);
    });
    environment.agenda.sweep();
    environment.sent();
  }
}
