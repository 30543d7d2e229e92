package glenmoor.engine.campaigns;

import glenmoor.core.access.Catalogue;
import glenmoor.core.campaigns.Campaign;
import glenmoor.core.campaigns.Campaign.Judged;
import glenmoor.core.campaigns.HoldingScope;
import glenmoor.core.conditions.Expressions.Condition;
import glenmoor.core.conditions.HoldingCondition;
import glenmoor.core.conditions.Unanswerable;
import glenmoor.engine.Refused;
import glenmoor.engine.jobs.WorkProgress;
import glenmoor.engine.time.Transactions;
import glenmoor.store.campaigns.LaunchMapper;
import glenmoor.store.campaigns.LaunchMapper.Kind;
import glenmoor.store.campaigns.LaunchMapper.ScopeRow;
import glenmoor.store.campaigns.RoundMapper.RoundRow;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;

/** Finds whom and what a round is about, and keeps it for the time in which its items are fixed. */
@Named
final class RoundScope {
  private static final int KINDS = 20_000;
  private static final int LOOKED_AT = 500;

  private final LaunchMapper launches;
  private final PersonMapper people;
  private final Transactions transactions;

  RoundScope(LaunchMapper launches, PersonMapper people, Transactions transactions) {
    this.launches = launches;
    this.people = people;
    this.transactions = transactions;
  }

  /**
   * Keeps what is in the scope of a round, and who, where not everybody is.
   *
   * @throws Refused if a condition of the campaign cannot be answered
   */
  void stage(RoundRow round, Campaign campaign, Catalogue catalogue, WorkProgress progress) {
    progress.at(0, 0, "looking for what is in its scope");
    stageScope(round, campaign, catalogue);
    if (campaign.people().isPresent()) {
      stagePeople(round, campaign.people().get(), catalogue, progress);
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
}
