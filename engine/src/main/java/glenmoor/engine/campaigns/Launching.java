package glenmoor.engine.campaigns;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;
import glenmoor.core.campaigns.Campaign;
import glenmoor.core.campaigns.RoundClock;
import glenmoor.core.campaigns.RoundState;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.requests.Campaigns;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.jobs.Jobs;
import glenmoor.engine.jobs.LongWork;
import glenmoor.engine.jobs.WorkProgress;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.campaigns.LaunchMapper;
import glenmoor.store.campaigns.RoundMapper;
import glenmoor.store.campaigns.RoundMapper.RoundRow;
import jakarta.inject.Named;
import java.util.List;
import java.util.Map;
import java.util.Objects;

/**
 * Launches rounds: fixes their items as of one moment, and begins to ask. What was fixed is judged
 * from the moment at which all of it is; whoever gives up before, or dies, leaves nothing of it.
 */
@Named
public final class Launching implements LongWork<Launching.Round> {
  private static final int AT_ONCE = 20_000;
  static final String REHEARSAL = "rehearsal";

  /** Which round. */
  record Round(long round) {}

  /** What launching a round came to. */
  public record CampaignLaunched(
      long round, String campaign, int items, int people, int reviewers) {}

  private final RoundMapper rounds;
  private final LaunchMapper launches;
  private final Fixing fixing;
  private final Rehearsed rehearsed;
  private final Catalogues catalogues;
  private final Jobs jobs;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Clock clock;

  Launching(
      RoundMapper rounds,
      LaunchMapper launches,
      Fixing fixing,
      Rehearsed rehearsed,
      Catalogues catalogues,
      Jobs jobs,
      Transactions transactions,
      Ledger ledger,
      Clock clock) {
    this.rounds = rounds;
    this.launches = launches;
    this.fixing = fixing;
    this.rehearsed = rehearsed;
    this.catalogues = catalogues;
    this.jobs = jobs;
    this.transactions = transactions;
    this.ledger = ledger;
    this.clock = clock;
    jobs.doneBy(this);
  }

  /** Begins to launch a round that is stored; inside the caller's transaction. */
  long begin(RoundRow round, Actor actor) {
    var rehearses = round.state().equals(REHEARSAL);
    var work =
        jobs.begin(
            this,
            (rehearses ? "rehearsing " : "launching ") + round.name(),
            new Round(round.id()),
            actor);
    rounds.work(round.id(), work);
    return work;
  }

  @Override
  public String kind() {
    return "campaign-launch";
  }

  @Override
  public Class<Round> input() {
    return Round.class;
  }

  @Override
  public List<Class<?>> results() {
    return List.of(CampaignLaunched.class, Rehearsed.CampaignRehearsal.class);
  }

  @Override
  public String whenCancelled() {
    return "It was dropped before it was launched; nobody was asked anything.";
  }

  @Override
  public void ended(Round input, long work, boolean done, String sentence) {
    var round = rounds.byId(input.round());
    if (round == null || done) {
      return;
    }
    if (round.state().equals(REHEARSAL) || round.personId() != null) {
      // Nobody asked for it by name, and nothing of it is there.
      rounds.drop(round.id());
    } else if (round.state().equals(RoundState.LAUNCHING.word())) {
      rounds.end(round.id(), RoundState.DROPPED.word(), sentence, clock.instant());
    }
  }

  @Override
  public Object run(Round input, Actor actor, WorkProgress progress) {
    var round = rounds.byId(input.round());
    var campaign =
        round == null
            ? null
            : Campaigns.of(catalogues.current().defined()).get(round.campaignKey());
    if (round == null || campaign == null) {
      throw new Refused(Refused.Reason.NOT_NOW, "The campaign is not defined any more.");
    }
    Authorization.need(actor, Permission.LEAD_CAMPAIGNS, Scope.campaign(campaign.key()));
    var rehearses = round.state().equals(REHEARSAL);
    if (!rehearses && !round.state().equals(RoundState.LAUNCHING.word())) {
      throw new Refused(Refused.Reason.NOT_NOW, "It is launched already.");
    }
    clear(round.id());
    try {
      var fixed = fixing.fix(round, campaign, progress);
      return rehearses
          ? rehearsed(round, campaign, fixed, progress)
          : launched(round, campaign, fixed, actor, progress);
    } catch (RuntimeException given) {
      clear(round.id());
      throw given;
    }
  }

  private Rehearsed.CampaignRehearsal rehearsed(
      RoundRow round, Campaign campaign, Fixing.Fixed fixed, WorkProgress progress) {
    var shown = rehearsed.of(round, campaign, fixed);
    clear(round.id());
    transactions.run(() -> {
      rounds.drop(round.id());
      progress.keep(shown);
    });
    return shown;
  }

  /** Deletes what an attempt before left, in parts. */
  private void clear(long round) {
    each(() -> launches.drop(round, AT_ONCE));
    each(() -> rounds.dropReviewers(round, AT_ONCE));
    unstage(round);
  }

  private void unstage(long round) {
    transactions.run(() -> rounds.forgetScope(round));
    each(() -> rounds.forgetPeople(round, AT_ONCE));
    each(() -> rounds.forgetAssigned(round, AT_ONCE));
    each(() -> rounds.forgetPeers(round, AT_ONCE));
  }

  private interface Part {
    int done();
  }

  private void each(Part part) {
    while (transactions.run(part::done) > 0) {
      continue;
    }
  }

  private CampaignLaunched launched(
      RoundRow round, Campaign campaign, Fixing.Fixed fixed, Actor actor, WorkProgress progress) {
    if (fixed.items() == 0) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "Nothing is in its scope, so there is nothing to judge. Rehearse it to see what its conditions leave.");
    }
    var result =
        transactions.run(() -> {
          var now = clock.instant();
          rounds.launched(
              round.id(),
              fixed.items(),
              fixed.people(),
              RoundClock.due(round.asOf(), campaign, catalogues.zone()));
          var reviewers = rounds.reviewers(round.id()).size();
          var launched =
              new CampaignLaunched(
                  round.id(), campaign.key(), fixed.items(), fixed.people(), reviewers);
          ledger.append(
              new LedgerEntry(
                  now,
                  actor.login(),
                  round.occasion(),
                  "campaign:" + campaign.key(),
                  "campaign-launched",
                  Map.of(),
                  Map.of(
                      "round", round.id(),
                      "items", fixed.items(),
                      "people", fixed.people(),
                      "reviewers", reviewers,
                      "asOf", round.asOf().toString())));
          progress.keep(launched);
          return launched;
        });
    unstage(round.id());
    return Objects.requireNonNull(result);
  }
}
