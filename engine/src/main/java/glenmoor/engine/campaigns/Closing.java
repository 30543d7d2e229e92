package glenmoor.engine.campaigns;

import glenmoor.core.authorization.Actor;
import glenmoor.core.campaigns.Campaign;
import glenmoor.core.campaigns.Judgement;
import glenmoor.core.campaigns.RoundState;
import glenmoor.engine.campaigns.CampaignConcerns.Review;
import glenmoor.store.campaigns.ItemMapper;
import glenmoor.store.campaigns.RoundMapper;
import glenmoor.store.campaigns.RoundMapper.ReviewerRow;
import glenmoor.store.campaigns.RoundMapper.RoundRow;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.Objects;

/** Ends the judging of a round as its closing rule says; inside the caller's transaction. */
@Named
final class Closing {
  private static final Duration LEAST_WITH_OWNERS = Duration.ofDays(7);

  private final RoundMapper rounds;
  private final ItemMapper items;
  private final ReviewersFound found;
  private final SigningOff signingOff;

  Closing(RoundMapper rounds, ItemMapper items, ReviewersFound found, SigningOff signingOff) {
    this.rounds = rounds;
    this.items = items;
    this.found = found;
    this.signingOff = signingOff;
  }

  /** Whether what is undecided at its end goes to owners first, and nothing is taken by it. */
  boolean goesToOwners(RoundRow round) {
    return round.closing().equals(Campaign.Closing.OWNER.word()) && !round.withOwners();
  }

  /** What is decided stands; what is undecided is revoked, kept, or goes to owners once. */
  void close(RoundRow round, Instant now) {
    if (goesToOwners(round)) {
      toOwners(round, now);
      return;
    }
    var judgement = undecided(Campaign.Closing.ofWord(round.closing()));
    for (var reviewer : rounds.reviewers(round.id())) {
      if (reviewer.signedOffAt() == null) {
        items.decideRest(
            reviewer.id(),
            judgement.word(),
            Actor.SERVICE.login(),
            "undecided when the round was over",
            now);
        signingOff.atTheEnd(new Review(round, reviewer), Actor.SERVICE.login(), now);
      }
    }
    rounds.move(round.id(), RoundState.OPEN.word(), RoundState.CLOSING.word());
  }

  /** What becomes of what nobody has decided, owners included. */
  private static Judgement undecided(Campaign.Closing closing) {
    return switch (closing) {
      case KEEP -> Judgement.KEEP;
      case REVOKE, OWNER -> Judgement.REVOKE;
    };
  }

  /** Owners of applications have half of the time again, and a week at least. */
  private void toOwners(RoundRow round, Instant now) {
    for (var reviewer : rounds.reviewers(round.id())) {
      for (var each : items.undecidedBy(reviewer.id())) {
        var who =
            each.value().isEmpty()
                ? ReviewersFound.leads(round.campaignKey())
                : ReviewersFound.owners(each.value());
        if (found.judges(who).isEmpty()) {
          who = ReviewersFound.leads(round.campaignKey());
        }
        var to = found.row(round.id(), reviewer.level(), who);
        if (!to.id().equals(reviewer.id())) {
          rounds.reopen(to.id());
          items.passApplication(reviewer.id(), each.value(), to.id());
          nothingOfOneself(round, to);
        }
      }
    }
    var half = Duration.between(round.asOf(), round.dueAt()).dividedBy(2);
    rounds.toOwners(
        round.id(), now.plus(half.compareTo(LEAST_WITH_OWNERS) > 0 ? half : LEAST_WITH_OWNERS));
    if (!rounds.anyOpen(round.id())) {
      rounds.move(round.id(), RoundState.OPEN.word(), RoundState.CLOSING.word());
    }
  }

  /** What somebody, alone, would judge of themselves goes to their manager, or who leads it. */
  void nothingOfOneself(RoundRow round, ReviewerRow reviewer) {
    if (round.selfReview()) {
      return;
    }
    var judges = found.judges(reviewer);
    if (judges.size() != 1) {
      return;
    }
    var person = judges.iterator().next();
    var up = found.above(person).orElse(ReviewersFound.leads(round.campaignKey()));
    var to = found.row(round.id(), reviewer.level(), up);
    if (!Objects.equals(to.id(), reviewer.id())
        && items.passSelf(reviewer.id(), person, to.id()) > 0) {
      rounds.reopen(to.id());
    }
  }
}
