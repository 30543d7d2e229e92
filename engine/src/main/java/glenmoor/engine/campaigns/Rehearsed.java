package glenmoor.engine.campaigns;

import glenmoor.core.campaigns.Campaign;
import glenmoor.core.campaigns.Reviewers;
import glenmoor.store.campaigns.ItemMapper;
import glenmoor.store.campaigns.ItemMapper.StateCount;
import glenmoor.store.campaigns.RoundMapper;
import glenmoor.store.campaigns.RoundMapper.ReviewerRow;
import glenmoor.store.campaigns.RoundMapper.RoundRow;
import jakarta.inject.Named;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Objects;
import java.util.function.ToIntFunction;

/** What a round would ask of whom, counted over the very items that a launch would fix. */
@Named
public final class Rehearsed {
  private static final int NAMED = 200;
  private static final int HEAVY = 200;

  /**
   * How much somebody would have to judge.
   *
   * @param careful how many of them are not suggested to stay
   * @param judges how many people share it; 0 where nobody can judge
   */
  public record ReviewerLoad(String reviewer, int items, int careful, int judges) {}

  /**
   * A rehearsal.
   *
   * @param everybody how many people there are
   * @param nobodys items that go to whoever the campaign names for what nobody else can judge
   * @param loads the heaviest first, at most 200
   * @param warnings in sentences
   */
  public record CampaignRehearsal(
      String campaign,
      int items,
      int people,
      int everybody,
      int reviewers,
      int careful,
      int nobodys,
      List<ReviewerLoad> loads,
      List<String> warnings) {}

  private final RoundMapper rounds;
  private final ItemMapper items;
  private final ReviewersFound found;
  private final Assigning assigning;

  Rehearsed(RoundMapper rounds, ItemMapper items, ReviewersFound found, Assigning assigning) {
    this.rounds = rounds;
    this.items = items;
    this.found = found;
    this.assigning = assigning;
  }

  CampaignRehearsal of(RoundRow round, Campaign campaign, Fixing.Fixed fixed) {
    var counts = new HashMap<Long, StateCount>();
    items.countsOfRound(round.id()).forEach(each -> counts.put(each.reviewerId(), each));
    ToIntFunction<ReviewerRow> number = row -> Objects.requireNonNull(counts.get(row.id())).items();
    var fallback = assigning.fallback(campaign);
    var named =
        campaign.reviewers() instanceof Reviewers.Leads
            || campaign.reviewers() instanceof Reviewers.OfTeam
            || campaign.reviewers() instanceof Reviewers.OnePerson;
    var rows =
        rounds.reviewers(round.id()).stream()
            .filter(row -> counts.containsKey(row.id()))
            .sorted(Comparator.comparing((ReviewerRow row) -> -number.applyAsInt(row)))
            .toList();
    var nobodys =
        named
            ? 0
            : rows.stream()
                .filter(row ->
                    row.kind().equals(fallback.kind()) && row.target().equals(fallback.target()))
                .mapToInt(number)
                .sum();
    var loads =
        rows.stream()
            .limit(NAMED)
            .map(row ->
                new ReviewerLoad(
                    found.name(row),
                    number.applyAsInt(row),
                    Objects.requireNonNull(counts.get(row.id())).careful(),
                    found.judges(row).size()))
            .toList();
    var careful = counts.values().stream().mapToInt(StateCount::careful).sum();
    return new CampaignRehearsal(
        campaign.key(),
        fixed.items(),
        fixed.people(),
        fixed.everybody(),
        rows.size(),
        careful,
        nobodys,
        loads,
        warnings(campaign, fixed, loads, nobodys, found.name(rows, fallback)));
  }

  private static List<String> warnings(
      Campaign campaign,
      Fixing.Fixed fixed,
      List<ReviewerLoad> loads,
      int nobodys,
      String fallback) {
    var warnings = new ArrayList<String>();
    if (fixed.items() == 0) {
      warnings.add("Nothing is in its scope, so it cannot be launched.");
    } else if (campaign.offered().isEmpty()
        && campaign.people().isEmpty()
        && campaign.holdings().isEmpty()
        && campaign.heldDays() == 0
        && campaign.movedDays() == 0) {
      warnings.add(
          "Its scope leaves nothing out: all %,d items of all %,d people who have any."
              .formatted(fixed.items(), fixed.people()));
    }
    if (nobodys > 0) {
      warnings.add(
          "%,d items have nobody who could judge them, or would be judged by who holds them; they go to %s."
              .formatted(nobodys, fallback));
    }
    var heavy = loads.stream().filter(load -> load.items() > HEAVY).count();
    if (heavy > 0) {
      warnings.add(
          "%,d reviewers have more than %,d items: that is hardly judged item by item."
              .formatted(heavy, HEAVY));
    }
    loads.stream()
        .filter(load -> load.judges() == 0)
        .forEach(load ->
            warnings.add(
                "Nobody can judge the %,d items of “%s”: give somebody the duty."
                    .formatted(load.items(), load.reviewer())));
    return warnings;
  }
}
