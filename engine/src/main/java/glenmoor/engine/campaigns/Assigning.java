package glenmoor.engine.campaigns;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.RolePackage;
import glenmoor.core.campaigns.Campaign;
import glenmoor.core.campaigns.Reviewers;
import glenmoor.engine.campaigns.ReviewersFound.Who;
import glenmoor.engine.time.Transactions;
import glenmoor.store.campaigns.ItemMapper;
import glenmoor.store.campaigns.LaunchMapper;
import glenmoor.store.campaigns.LaunchMapper.Launch;
import glenmoor.store.campaigns.RoundMapper;
import glenmoor.store.campaigns.RoundMapper.Assigned;
import glenmoor.store.campaigns.RoundMapper.ReviewerRow;
import glenmoor.store.campaigns.RoundMapper.RoundRow;
import jakarta.inject.Named;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Says whose items go to whom, before there are any: by manager, application, entitlement or
 * package. What nobody can judge goes to whoever the campaign says, or to those who lead it; what
 * somebody would judge of themselves goes to their manager.
 */
@Named
final class Assigning {
  private static final int AT_ONCE = 500;

  private final RoundMapper rounds;
  private final LaunchMapper launches;
  private final ItemMapper items;
  private final ReviewersFound found;
  private final Transactions transactions;

  Assigning(
      RoundMapper rounds,
      LaunchMapper launches,
      ItemMapper items,
      ReviewersFound found,
      Transactions transactions) {
    this.rounds = rounds;
    this.launches = launches;
    this.items = items;
    this.found = found;
    this.transactions = transactions;
  }

  /** By what of an item its reviewer is found. */
  static String by(Campaign campaign) {
    return switch (campaign.reviewers()) {
      case Reviewers.LineManagers m -> "manager";
      case Reviewers.Sponsors s -> "sponsor";
      case Reviewers.Holders h -> "holder";
      case Reviewers.ApplicationOwners a -> "application";
      case Reviewers.EntitlementOwners e -> "target";
      case Reviewers.Stewards s -> "target";
      case Reviewers.Leads l -> "one";
      case Reviewers.OfTeam t -> "one";
      case Reviewers.OnePerson p -> "one";
    };
  }

  /** Who judges what nobody else can. */
  Who fallback(Campaign campaign) {
    return campaign
        .otherwise()
        .flatMap(who -> found.named(who, campaign.key()))
        .filter(who -> !found.judges(who).isEmpty())
        .orElseGet(() -> ReviewersFound.leads(campaign.key()));
  }

  /**
   * Writes it all.
   *
   * @return the reviewer of what goes to nobody else
   */
  long assign(RoundRow round, Campaign campaign, Launch launch, Catalogue catalogue) {
    var fallback = transactions.run(() -> found.row(round.id(), 1, fallback(campaign)).id());
    if (campaign.reviewers() instanceof Reviewers.Holders) {
      transactions.run(() -> launches.holders(launch));
      transactions.run(() -> launches.assignHolders(launch));
      return fallback;
    }
    var whose = whose(campaign, launch, catalogue);
    var up = up(whose);
    var all = new HashSet<Who>(whose.values());
    all.addAll(up.values());
    var ids = rows(round.id(), all);
    var assigned =
        whose.entrySet().stream()
            .map(each -> {
              var who = each.getValue();
              var alone = alone(who);
              return new Assigned(
                  round.id(),
                  each.getKey(),
                  Objects.requireNonNull(ids.get(who)),
                  alone,
                  Optional.ofNullable(up.get(who)).map(ids::get).orElse(fallback));
            })
            .toList();
    for (var from = 0; from < assigned.size(); from += AT_ONCE) {
      var batch = assigned.subList(from, Math.min(assigned.size(), from + AT_ONCE));
      transactions.run(() -> rounds.assign(batch));
    }
    return fallback;
  }

  /** The one person who judges, where it is one. */
  private @Nullable Long alone(Who who) {
    if (who.kind().equals(ReviewersFound.PERSON)) {
      return who.person();
    }
    var judges = found.judges(who);
    return judges.size() == 1 ? judges.iterator().next() : null;
  }

  private Map<String, Who> whose(Campaign campaign, Launch launch, Catalogue catalogue) {
    var whose = new LinkedHashMap<String, Who>();
    switch (campaign.reviewers()) {
      case Reviewers.LineManagers m -> whose.putAll(found.ofWorkers(launches.managers(launch)));
      case Reviewers.Sponsors s ->
          whose.putAll(found.ofWorkers(launches.sponsors(launch, "sponsor")));
      case Reviewers.Holders h -> {
        // Each holder is written by the database.
      }
      case Reviewers.ApplicationOwners a ->
          catalogue
              .applications()
              .forEach(each -> put(whose, each.key(), ReviewersFound.owners(each.key())));
      case Reviewers.EntitlementOwners e ->
          catalogue
              .entitlements()
              .values()
              .forEach(each -> put(whose, each.key(), found.ownerOf(each)));
      case Reviewers.Stewards s ->
          catalogue.packages().values().stream()
              .filter(each -> !each.portfolio().isEmpty())
              .forEach(each -> put(whose, each.key(), stewards(each)));
      case Reviewers.Leads l -> put(whose, "one", ReviewersFound.leads(campaign.key()));
      case Reviewers.OfTeam t -> named(whose, campaign);
      case Reviewers.OnePerson p -> named(whose, campaign);
    }
    return whose;
  }

  private static Who stewards(RolePackage rolePackage) {
    return ReviewersFound.stewards(rolePackage.portfolio());
  }

  private void named(Map<String, Who> whose, Campaign campaign) {
    found.named(campaign.reviewers(), campaign.key()).ifPresent(who -> put(whose, "one", who));
  }

  private void put(Map<String, Who> whose, String key, Who who) {
    if (!found.judges(who).isEmpty()) {
      whose.put(key, who);
    }
  }

  /** Who judges what people, each of them alone, would judge of themselves. */
  private Map<Who, Who> up(Map<String, Who> whose) {
    var alone = new HashMap<Who, Long>();
    whose.values().stream()
        .distinct()
        .forEach(who -> {
          var person = alone(who);
          if (person != null) {
            alone.put(who, person);
          }
        });
    var managers = found.managersOf(alone.values());
    var above =
        found.ofWorkers(
            managers.values().stream().filter(key -> !key.isEmpty()).collect(Collectors.toSet()));
    var up = new HashMap<Who, Who>();
    alone.forEach((who, person) -> {
      var manager = above.get(managers.getOrDefault(person, ""));
      if (manager != null && !person.equals(manager.person()) && !person.equals(manager.acting())) {
        up.put(who, manager);
      }
    });
    return up;
  }

  /** The identities of reviewers, all of them begun. */
  private Map<Who, Long> rows(long round, HashSet<Who> all) {
    var wanted = new ArrayList<>(all);
    for (var from = 0; from < wanted.size(); from += AT_ONCE) {
      var batch =
          wanted.subList(from, Math.min(wanted.size(), from + AT_ONCE)).stream()
              .map(who -> who.in(round, 1))
              .toList();
      transactions.run(() -> rounds.addReviewers(batch));
    }
    var known = new HashMap<String, Long>();
    for (ReviewerRow row : rounds.reviewers(round)) {
      known.put(row.kind() + ":" + row.target(), row.id());
    }
    return all.stream()
        .collect(
            Collectors.toMap(
                who -> who,
                who -> Objects.requireNonNull(known.get(who.kind() + ":" + who.target())),
                (one, other) -> one));
  }

  /** Once all items are there: those who stand in judge nothing of their own, and nobody idles. */
  void settle(RoundRow round, long fallback) {
    var standing =
        rounds.reviewers(round.id()).stream()
            .filter(
                row -> row.actingId() != null && !Objects.equals(row.actingId(), row.personId()))
            .toList();
    transactions.run(() -> {
      for (var row : standing) {
        items.passSelf(row.id(), Objects.requireNonNull(row.actingId()), fallback);
      }
      rounds.dropIdleReviewers(round.id());
    });
  }
}
