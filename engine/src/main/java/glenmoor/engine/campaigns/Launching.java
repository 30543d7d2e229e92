package glenmoor.engine.campaigns;

import glenmoor.core.access.Catalogue;
import glenmoor.core.applications.Application;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;
import glenmoor.core.campaigns.Campaign;
import glenmoor.core.campaigns.Campaign.Judged;
import glenmoor.core.campaigns.HoldingScope;
import glenmoor.core.campaigns.RoundClock;
import glenmoor.core.campaigns.RoundState;
import glenmoor.core.conditions.Expressions.Condition;
import glenmoor.core.conditions.HoldingCondition;
import glenmoor.core.conditions.Unanswerable;
import glenmoor.core.conflicts.ConflictRuleKind;
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
import glenmoor.store.campaigns.LaunchMapper.Kind;
import glenmoor.store.campaigns.LaunchMapper.Launch;
import glenmoor.store.campaigns.LaunchMapper.Ruled;
import glenmoor.store.campaigns.LaunchMapper.ScopeRow;
import glenmoor.store.campaigns.RoundMapper;
import glenmoor.store.campaigns.RoundMapper.RoundRow;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.time.SqlTime;
import glenmoor.store.usage.UsageMapper.Watch;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.json.JsonMapper;

/**
 * Fixes the items of a round as of one moment, with what a reviewer has to know of each: a stretch
 * of people at a time, in the order in which everything of theirs lies in the database. What was
 * fixed is judged from the moment at which all of it is; whoever gives up before, or dies, leaves
 * nothing of it.
 */
@Named
public final class Launching implements LongWork<Launching.Round> {
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final int STRETCH = 10_000;
  private static final int AT_ONCE = 20_000;
  private static final int KINDS = 20_000;
  private static final int LOOKED_AT = 500;
  private static final long START = 0;
  static final String REHEARSAL = "rehearsal";
  static final String MOVER = "mover:";

  /** Which round. */
  record Round(long round) {}

  /** What launching a round came to. */
  public record CampaignLaunched(
      long round, String campaign, int items, int people, int reviewers) {}

  private final RoundMapper rounds;
  private final LaunchMapper launches;
  private final PersonMapper people;
  private final Assigning assigning;
  private final Rehearsed rehearsed;
  private final Catalogues catalogues;
  private final Jobs jobs;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Clock clock;

  Launching(
      RoundMapper rounds,
      LaunchMapper launches,
      PersonMapper people,
      Assigning assigning,
      Rehearsed rehearsed,
      Catalogues catalogues,
      Jobs jobs,
      Transactions transactions,
      Ledger ledger,
      Clock clock) {
    this.rounds = rounds;
    this.launches = launches;
    this.people = people;
    this.assigning = assigning;
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
      var fixed = fixed(round, campaign, progress);
      return rehearses
          ? rehearsed(round, campaign, fixed, progress)
          : launched(round, campaign, fixed, actor, progress);
    } catch (RuntimeException given) {
      clear(round.id());
      throw given;
    }
  }

  private Rehearsed.CampaignRehearsal rehearsed(
      RoundRow round, Campaign campaign, Fixed fixed, WorkProgress progress) {
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

  /** How many items there are, and of how many people. */
  record Fixed(int items, int people, int everybody) {}

  private Fixed fixed(RoundRow round, Campaign campaign, WorkProgress progress) {
    var catalogue = catalogues.current();
    progress.at(0, 0, "looking for what is in its scope");
    stageScope(round, campaign, catalogue);
    if (campaign.people().isPresent()) {
      stagePeople(round, campaign.people().get(), catalogue, progress);
    }
    var launch = launch(round, campaign, catalogue);
    progress.at(0, 0, "finding who judges");
    var fallback = assigning.assign(round, campaign, launch, catalogue);
    var all = people.countAll();
    for (var judged : campaign.judged()) {
      var one = with(launch, judged, fallback);
      countPeers(one, judged);
      items(one, judged, all, progress);
    }
    assigning.settle(round, fallback);
    return new Fixed(launches.count(round.id()), launches.countPeople(round.id()), all);
  }

  private static Launch with(Launch launch, Judged judged, long fallback) {
    return new Launch(
        launch.round(),
        launch.asOf(),
        judged.one(),
        START,
        null,
        launch.scoped(),
        launch.person(),
        launch.offer(),
        launch.heldBefore(),
        launch.movedAfter(),
        launch.by(),
        fallback,
        launch.before(),
        launch.watches(),
        launch.rules(),
        switch (judged) {
          case ENTITLEMENTS, PACKAGES -> launch.peers();
          case ACCOUNTS, STRAY_ACCOUNTS, SERVICE_ACCOUNTS -> List.of();
        });
  }

  private void countPeers(Launch launch, Judged judged) {
    if (launch.peers().isEmpty()) {
      return;
    }
    switch (judged) {
      case ENTITLEMENTS -> {
        transactions.run(() -> launches.peers(launch));
        transactions.run(() -> launches.peersOfRights(launch));
      }
      case PACKAGES -> transactions.run(() -> launches.peersOfPackages(launch));
      case ACCOUNTS, STRAY_ACCOUNTS, SERVICE_ACCOUNTS -> {
        // Nobody is compared by these.
      }
    }
  }

  private void items(Launch launch, Judged judged, int all, WorkProgress progress) {
    switch (judged) {
      case STRAY_ACCOUNTS -> transactions.run(() -> launches.strays(launch));
      case SERVICE_ACCOUNTS -> transactions.run(() -> launches.services(launch));
      case ENTITLEMENTS -> stretches(launch, all, progress, launches::rights);
      case PACKAGES -> stretches(launch, all, progress, launches::packages);
      case ACCOUNTS -> stretches(launch, all, progress, launches::accounts);
    }
  }

  private interface Stretch {
    int fixed(Launch launch);
  }

  private void stretches(Launch launch, int all, WorkProgress progress, Stretch stretch) {
    var from = START;
    var items = 0;
    for (var done = 0; ; done += STRETCH) {
      progress.at(
          Math.min(done, all),
          all,
          "%,d of %,d people looked through, %,d items".formatted(Math.min(done, all), all, items));
      var to = launch.person() != null ? null : launches.mark(from, STRETCH - 1);
      var here = launch.between(from, to);
      items +=
          transactions.run(() -> {
            launches.makeGiven();
            launches.fillGiven(here);
            return stretch.fixed(here);
          });
      if (to == null) {
        return;
      }
      from = to;
    }
  }

  private void stageScope(RoundRow round, Campaign campaign, Catalogue catalogue) {
    var rows = new ArrayList<ScopeRow>();
    for (var judged : campaign.judged()) {
      var masks =
          campaign
              .holdings()
              .map(condition -> masks(condition, judged, catalogue))
              .orElseGet(() -> HoldingScope.all(judged, catalogue));
      campaign.offered().ifPresent(by -> masks.keySet().retainAll(Set.of(by.rolePackage())));
      masks.forEach((key, mask) -> {
        var rights = HoldingScope.rights(judged, key, catalogue);
        rows.add(
            new ScopeRow(
                round.id(),
                judged.one(),
                key,
                judged == Judged.PACKAGES ? "" : key.replaceFirst("/.*", ""),
                HoldingScope.risk(rights).ordinal(),
                mask));
      });
    }
    for (var from = 0; from < rows.size(); from += LOOKED_AT) {
      var batch = rows.subList(from, Math.min(rows.size(), from + LOOKED_AT));
      transactions.run(() -> launches.addScope(batch));
    }
  }

  private static Map<String, Long> masks(
      HoldingCondition condition, Judged judged, Catalogue catalogue) {
    try {
      return HoldingScope.of(condition, judged, catalogue);
    } catch (Unanswerable failed) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "Its condition on holdings cannot be answered: %s.".formatted(failed.getMessage()));
    }
  }

  /**
   * People alike in the facts that the condition names are all in the scope, or none: it is asked
   * of one of each kind.
   */
  private void stagePeople(
      RoundRow round, Condition condition, Catalogue catalogue, WorkProgress progress) {
    var named =
        condition.factsNamed().stream().filter(catalogue.facts()::containsKey).sorted().toList();
    var ofOne =
        condition.factsNamed().stream()
            .anyMatch(fact -> fact.equals("worker") || fact.equals("name") || fact.equals("teams"));
    var after = 0L;
    while (true) {
      var kinds =
          launches.kinds(
              round.asOf(),
              named,
              round.personId(),
              ofOne,
              ofOne ? after : 0,
              ofOne ? KINDS : Integer.MAX_VALUE);
      for (var from = 0; from < kinds.size(); from += LOOKED_AT) {
        var batch = kinds.subList(from, Math.min(kinds.size(), from + LOOKED_AT));
        progress.at(0, 0, "%,d kinds of people looked at".formatted(from));
        var in = holding(batch, condition, catalogue, round.asOf());
        if (!in.isEmpty()) {
          transactions.run(() -> {
            if (ofOne) {
              launches.addPeople(round.id(), in);
            } else {
              launches.scopeLike(round.id(), round.asOf(), named, round.personId(), in);
            }
          });
        }
      }
      if (!ofOne || kinds.size() < KINDS) {
        return;
      }
      after = kinds.getLast().id();
    }
  }

  private List<Long> holding(
      List<Kind> kinds, Condition condition, Catalogue catalogue, Instant asOf) {
    return people.allAsOf(kinds.stream().map(Kind::id).toList(), asOf).stream()
        .filter(row -> {
          try {
            return condition.holds(
                catalogue.expressions().view(FactsJson.person(row, catalogue.facts())));
          } catch (Unanswerable failed) {
            // Whoever cannot be told to be outside is looked through.
            return true;
          }
        })
        .map(row -> row.id())
        .collect(Collectors.toList());
  }

  private Launch launch(RoundRow round, Campaign campaign, Catalogue catalogue) {
    var asOf = round.asOf();
    return new Launch(
        round.id(),
        asOf,
        "",
        START,
        null,
        campaign.people().isPresent(),
        round.personId(),
        campaign.offered().map(Campaign.Offered::offer).orElse(null),
        heldBefore(round, campaign),
        round.personId() == null ? ago(asOf, campaign.movedDays()) : null,
        Assigning.by(campaign),
        0,
        round.beforeId() == null ? 0 : round.beforeId(),
        watches(catalogue, asOf),
        rules(catalogue),
        campaign.peers());
  }

  /** Of somebody who moved, it is about what they had until then. */
  private @Nullable Instant heldBefore(RoundRow round, Campaign campaign) {
    return round.occasion().startsWith(MOVER)
        ? rounds.movedAt(Long.parseLong(round.occasion().substring(MOVER.length())))
        : ago(round.asOf(), campaign.heldDays());
  }

  private static @Nullable Instant ago(Instant at, int days) {
    return days == 0 ? null : at.minus(Duration.ofDays(days));
  }

  private static String watches(Catalogue catalogue, Instant asOf) {
    return JSON.writeValueAsString(
        catalogue.applications().stream()
            .filter(each -> each.idleDays().isPresent())
            .map(each -> new Watch(each.key(), SqlTime.write(idleBefore(each, asOf))))
            .toList());
  }

  private static Instant idleBefore(Application application, Instant asOf) {
    return asOf.minus(Duration.ofDays(application.idleDays().orElseThrow()));
  }

  private static String rules(Catalogue catalogue) {
    return JSON.writeValueAsString(
        catalogue.defined().all(ConflictRuleKind.class).values().stream()
            .flatMap(rule -> rule.entitlements().stream().map(key -> new Ruled(rule.key(), key)))
            .toList());
  }

  private CampaignLaunched launched(
      RoundRow round, Campaign campaign, Fixed fixed, Actor actor, WorkProgress progress) {
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
