package glenmoor.engine.campaigns;

import glenmoor.core.access.Catalogue;
import glenmoor.core.applications.Application;
import glenmoor.core.campaigns.Campaign;
import glenmoor.core.campaigns.Campaign.Judged;
import glenmoor.core.conflicts.ConflictRuleKind;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.jobs.WorkProgress;
import glenmoor.engine.time.Transactions;
import glenmoor.store.campaigns.LaunchMapper;
import glenmoor.store.campaigns.LaunchMapper.Launch;
import glenmoor.store.campaigns.LaunchMapper.Ruled;
import glenmoor.store.campaigns.RoundMapper;
import glenmoor.store.campaigns.RoundMapper.RoundRow;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.time.SqlTime;
import glenmoor.store.usage.UsageMapper.Watch;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import tools.jackson.databind.json.JsonMapper;

/**
 * Fixes the items of a round as of one moment, with what a reviewer has to know of each: a stretch
 * of people at a time, in the order in which everything of theirs lies in the database.
 */
@Named
final class Fixing {
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final int STRETCH = 10_000;
  private static final long START = 0;

  /** The occasion of a round about somebody who moved begins like this; their event follows. */
  static final String MOVER = "mover:";

  /** How many items there are, and of how many people. */
  record Fixed(int items, int people, int everybody) {}

  private final RoundMapper rounds;
  private final LaunchMapper launches;
  private final PersonMapper people;
  private final RoundScope scope;
  private final Assigning assigning;
  private final Catalogues catalogues;
  private final Transactions transactions;

  Fixing(
      RoundMapper rounds,
      LaunchMapper launches,
      PersonMapper people,
      RoundScope scope,
      Assigning assigning,
      Catalogues catalogues,
      Transactions transactions) {
    this.rounds = rounds;
    this.launches = launches;
    this.people = people;
    this.scope = scope;
    this.assigning = assigning;
    this.catalogues = catalogues;
    this.transactions = transactions;
  }

  /** Fixes all of them; how many came of it is counted at the end. */
  Fixed fix(RoundRow round, Campaign campaign, WorkProgress progress) {
    var catalogue = catalogues.current();
    scope.stage(round, campaign, catalogue, progress);
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
}
