package glenmoor.engine.campaigns;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;
import glenmoor.core.campaigns.RoundState;
import glenmoor.engine.Refused;
import glenmoor.store.campaigns.ItemMapper;
import glenmoor.store.campaigns.ItemMapper.ItemRow;
import glenmoor.store.campaigns.RoundMapper;
import glenmoor.store.campaigns.RoundMapper.ReviewerRow;
import glenmoor.store.campaigns.RoundMapper.RoundRow;
import glenmoor.store.people.PersonMapper;
import jakarta.inject.Named;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;

/** Whom a round, a review and an item concern: asked in one place. */
@Named
final class CampaignConcerns {
  private final RoundMapper rounds;
  private final ItemMapper items;
  private final PersonMapper people;
  private final ReviewersFound found;

  CampaignConcerns(
      RoundMapper rounds, ItemMapper items, PersonMapper people, ReviewersFound found) {
    this.rounds = rounds;
    this.items = items;
    this.people = people;
    this.found = found;
  }

  /** A review: what one reviewer has to judge in one round. */
  record Review(RoundRow round, ReviewerRow reviewer) {}

  static boolean sees(String campaign, Actor actor) {
    return actor.may(Permission.SEE_CAMPAIGNS, Scope.campaign(campaign));
  }

  static boolean leads(String campaign, Actor actor) {
    return actor.may(Permission.LEAD_CAMPAIGNS, Scope.campaign(campaign));
  }

  /** The identity of the person that the actor is; null where they are none. */
  @Nullable Long own(Actor actor) {
    var worker = actor.worker();
    var row = worker == null ? null : people.byWorker(worker);
    return row == null ? null : row.id();
  }

  /**
   * A round, for those who see its campaign.
   *
   * @throws Refused as if there were none to everybody else
   */
  RoundRow round(long id, Actor actor) {
    var round = rounds.byId(id);
    if (round == null
        || round.state().equals(Launching.REHEARSAL)
        || !sees(round.campaignKey(), actor)) {
      throw noRound(id);
    }
    return round;
  }

  /**
   * A round of which the actor leads the campaign, locked.
   *
   * @throws Refused as if there were none where they do not see it
   */
  RoundRow led(long id, Actor actor) {
    var round = round(id, actor);
    if (!leads(round.campaignKey(), actor)) {
      throw new Refused(
          Refused.Reason.NOT_ALLOWED, "Only who leads the campaign may do that to its rounds.");
    }
    return Objects.requireNonNull(rounds.lock(id));
  }

  private static Refused noRound(long id) {
    return Refused.notThere("There is no round %d that you may see.".formatted(id));
  }

  boolean judges(ReviewerRow reviewer, Actor actor) {
    return judges(reviewer, own(actor));
  }

  /** Whether somebody judges as this reviewer. */
  boolean judges(ReviewerRow reviewer, @Nullable Long own) {
    return own != null && (own.equals(reviewer.actingId()) || found.judges(reviewer).contains(own));
  }

  /**
   * A review, for those who judge it and those who see its campaign.
   *
   * @throws Refused as if there were none to everybody else
   */
  Review seen(long id, Actor actor) {
    var reviewer = rounds.reviewerById(id);
    var round = reviewer == null ? null : rounds.byId(reviewer.roundId());
    if (reviewer == null
        || round == null
        || round.state().equals(RoundState.LAUNCHING.word())
        || round.state().equals(Launching.REHEARSAL)
        || !judges(reviewer, actor) && !sees(round.campaignKey(), actor)) {
      throw noReview(id);
    }
    return new Review(round, reviewer);
  }

  private static Refused noReview(long id) {
    return Refused.notThere("There is no review %d that is yours.".formatted(id));
  }

  /**
   * A review that the actor judges and that is still open, locked until the caller's transaction
   * ends.
   *
   * @throws Refused as if there were none to those who may not see it; with the reason to others
   */
  Review judged(long id, Actor actor) {
    var review = seen(id, actor);
    if (!judges(review.reviewer(), actor)) {
      throw new Refused(
          Refused.Reason.NOT_ALLOWED, "Only its reviewer judges it; you may look at it.");
    }
    var round = Objects.requireNonNull(rounds.lock(review.round().id()));
    var reviewer = Objects.requireNonNull(rounds.lockReviewer(id));
    if (!round.state().equals(RoundState.OPEN.word())) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "“%s” is over: nothing is judged any more.".formatted(round.name()));
    }
    if (reviewer.signedOffAt() != null) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "It was signed off by %s; what was decided stands.".formatted(reviewer.signedOffBy()));
    }
    return new Review(round, reviewer);
  }

  /**
   * One item, for those who judge it, see its campaign, or hold it once it was announced to them.
   *
   * @throws Refused as if there were none to everybody else
   */
  ItemRow item(long id, Actor actor) {
    var item = items.byIds(List.of(id)).stream().findFirst().orElse(null);
    var round = item == null ? null : rounds.byId(item.roundId());
    var reviewer = item == null ? null : rounds.reviewerById(item.reviewerId());
    if (item == null
        || round == null
        || reviewer == null
        || !judges(reviewer, actor)
            && !sees(round.campaignKey(), actor)
            && !answers(item, round, actor)) {
      throw noItem(id);
    }
    return item;
  }

  static Refused noItem(long id) {
    return Refused.notThere("There is no item %d that is yours to judge.".formatted(id));
  }

  /** Whether the actor holds it, and may say that they need it. */
  boolean answers(ItemRow item, RoundRow round, Actor actor) {
    return round.answerDays() > 0
        && item.state().equals("announced")
        && item.personId() != null
        && item.personId().equals(own(actor));
  }
}
