package glenmoor.engine.campaigns;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;
import glenmoor.core.campaigns.RoundState;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.brakes.HeldChanges;
import glenmoor.engine.campaigns.CampaignConcerns.Review;
import glenmoor.engine.campaigns.SigningOff.SignedOff;
import glenmoor.engine.jobs.WorkProgress;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.campaigns.ItemMapper;
import glenmoor.store.campaigns.RoundMapper;
import jakarta.inject.Named;
import java.io.InputStream;
import java.util.List;
import java.util.Map;
import java.util.function.Function;

/**
 * Signs reviews off under the brake on campaigns: what would take something from too many people at
 * once waits whole until somebody else releases it. What was decided must be the same by then.
 */
@Named
final class BrakedSignOff implements HeldChanges.Releasing {
  private static final String KIND = "sign-off";

  /** From how many people how many items would be taken. */
  public record SignOffForecast(
      String campaign,
      String name,
      long round,
      long review,
      String reviewer,
      int items,
      int people) {}

  /** A review that was signed off in the end. */
  public record ReviewSignedOff(long review, int kept, int revoked) {}

  private final RoundMapper rounds;
  private final ItemMapper items;
  private final CampaignBrake brake;
  private final ReviewersFound found;
  private final SigningOff signingOff;
  private final HeldChanges held;
  private final Transactions transactions;
  private final Clock clock;

  BrakedSignOff(
      RoundMapper rounds,
      ItemMapper items,
      CampaignBrake brake,
      ReviewersFound found,
      SigningOff signingOff,
      HeldChanges held,
      Transactions transactions,
      Clock clock) {
    this.rounds = rounds;
    this.items = items;
    this.brake = brake;
    this.found = found;
    this.signingOff = signingOff;
    this.held = held;
    this.transactions = transactions;
    this.clock = clock;
    held.carriedOutBy(KIND, this);
  }

  private static String what(Review review) {
    return "the sign-off of review %d in “%s”"
        .formatted(review.reviewer().id(), review.round().name());
  }

  /** The held changes in which sign-offs wait, asked for all at once. */
  Function<Review, String> allWaiting() {
    var waiting = held.waiting(KIND);
    return review -> {
      var id = waiting.get(what(review));
      return id == null ? "" : String.valueOf(id);
    };
  }

  private int losing(Review review) {
    return items.revokedPeople(review.reviewer().id());
  }

  /**
   * Signs a review off of which everything is decided, or has it wait; inside the caller's
   * transaction.
   *
   * @throws Refused if it waits already
   */
  SignedOff signOff(Review review, Actor actor) {
    if (held.waiting(KIND, what(review)).isPresent()) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "It was signed off, and waits for somebody to release it, since it takes something from many.");
    }
    var now = clock.instant();
    if (signingOff.looksASecondTime(review, now)) {
      return signingOff.signOff(review, actor.login(), now);
    }
    var losing = losing(review);
    var measured = brake.measured(losing);
    var over = brake.over(measured);
    if (over.isEmpty()) {
      return signingOff.signOff(review, actor.login(), now);
    }
    var stands = signingOff.decided(review);
    var id =
        held.hold(
            new HeldChanges.Holding(
                KIND,
                what(review),
                String.join("; ", over),
                measured,
                new SignOffForecast(
                    review.round().campaignKey(),
                    review.round().name(),
                    review.round().id(),
                    review.reviewer().id(),
                    found.name(review.reviewer()),
                    stands.revoked(),
                    losing),
                Map.of(
                    "review",
                    review.reviewer().id(),
                    "campaign",
                    review.round().campaignKey(),
                    "digest",
                    stands.digest())),
            InputStream.nullInputStream(),
            actor);
    return new SignedOff(
        stands.kept(), stands.revoked(), false, stands.digest(), String.valueOf(id));
  }

  private Review open(Map<String, Object> details) {
    var id = Long.parseLong(String.valueOf(details.get("review")));
    var known = rounds.reviewerById(id);
    var round = known == null ? null : rounds.lock(known.roundId());
    var reviewer = known == null ? null : rounds.lockReviewer(id);
    if (round == null
        || reviewer == null
        || !round.state().equals(RoundState.OPEN.word())
        || reviewer.signedOffAt() != null) {
      throw new Refused(Refused.Reason.NOT_NOW, "The review is over by now: drop this change.");
    }
    var review = new Review(round, reviewer);
    if (items.undecided(id) > 0
        || !signingOff.decided(review).digest().equals(String.valueOf(details.get("digest")))) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "What was decided has changed since: drop this change, and have it signed off anew.");
    }
    return review;
  }

  @Override
  public Permission needs() {
    return Permission.LEAD_CAMPAIGNS;
  }

  @Override
  public void check(Map<String, Object> details) {
    transactions.run(() -> open(details));
  }

  @Override
  public Object release(HeldChanges.Released released, Actor actor, WorkProgress progress) {
    return transactions.run(() -> {
      var review = open(released.details());
      Authorization.need(
          actor, Permission.LEAD_CAMPAIGNS, Scope.campaign(review.round().campaignKey()));
      brake.noMore(losing(review), released.allowed());
      var signed = signingOff.signOff(review, released.broughtBy(), clock.instant());
      var result = new ReviewSignedOff(review.reviewer().id(), signed.kept(), signed.revoked());
      progress.keep(result);
      return result;
    });
  }

  @Override
  public Class<?> forecast() {
    return SignOffForecast.class;
  }

  @Override
  public List<Class<?>> results() {
    return List.of(ReviewSignedOff.class);
  }
}
