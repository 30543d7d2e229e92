package glenmoor.engine.campaigns;

import glenmoor.core.authorization.Actor;
import glenmoor.core.campaigns.Campaign;
import glenmoor.core.campaigns.ItemSearch;
import glenmoor.core.requests.Campaigns;
import glenmoor.engine.campaigns.CampaignConcerns.Review;
import glenmoor.engine.campaigns.CampaignViews.RoundShown;
import glenmoor.engine.campaigns.ItemViews.ItemShown;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.time.Clock;
import glenmoor.store.campaigns.ItemMapper;
import glenmoor.store.campaigns.RoundMapper;
import glenmoor.store.campaigns.RoundMapper.Digest;
import glenmoor.store.campaigns.RoundMapper.ReviewerRow;
import glenmoor.store.campaigns.RoundMapper.RoundRow;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * The evidence of a round, for auditors: what was looked through, who decided what, what is gone.
 */
@Named
public final class RoundReports {
  private static final int PAGE = 1_000;

  /** Something that is said in a line: what it is, and what is said. */
  public record Line(String what, String said) {}

  /**
   * What a reviewer signed.
   *
   * @param digest SHA-256 of what was decided, as the ledger has it; empty where nothing was signed
   * @param stands whether what is recorded now is what was signed
   */
  public record Signed(
      String reviewer, int level, @Nullable Instant at, String by, String digest, boolean stands) {}

  /**
   * A report without its items.
   *
   * @param scope what was looked through, as it was defined at that moment
   * @param written when it was made
   */
  public record RoundReport(
      RoundShown round, List<Line> scope, List<Signed> signed, Instant written, String zone) {}

  private final RoundMapper rounds;
  private final ItemMapper items;
  private final CampaignConcerns concerns;
  private final CampaignViews views;
  private final ItemViews itemViews;
  private final ReviewersFound found;
  private final SigningOff signingOff;
  private final Catalogues catalogues;
  private final Clock clock;

  RoundReports(
      RoundMapper rounds,
      ItemMapper items,
      CampaignConcerns concerns,
      CampaignViews views,
      ItemViews itemViews,
      ReviewersFound found,
      SigningOff signingOff,
      Catalogues catalogues,
      Clock clock) {
    this.rounds = rounds;
    this.items = items;
    this.concerns = concerns;
    this.views = views;
    this.itemViews = itemViews;
    this.found = found;
    this.signingOff = signingOff;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  /** The report of a round, for those who see its campaign. */
  public RoundReport of(long id, Actor actor) {
    var round = concerns.round(id, actor);
    var reviewers = rounds.reviewers(id);
    var names = found.names(reviewers);
    var digests =
        rounds.digests(id).stream().collect(Collectors.toMap(Digest::reviewerId, Digest::hex));
    return new RoundReport(
        views.show(id, actor),
        scope(round),
        reviewers.stream()
            .map(row -> signed(round, row, names.name(row), digests.getOrDefault(row.id(), "")))
            .toList(),
        clock.instant(),
        catalogues.zone().getId());
  }

  /** Gives its items one after the other, a page at a time. */
  public void items(long id, Actor actor, Consumer<ItemShown> each) {
    concerns.round(id, actor);
    var after = 0L;
    while (true) {
      var page = items.search(ItemSearch.of(null, id, null, null, after, PAGE));
      itemViews.shown(page, actor).forEach(each);
      if (page.size() < PAGE) {
        return;
      }
      after = page.getLast().id();
    }
  }

  private Signed signed(RoundRow round, ReviewerRow row, String name, String hex) {
    // What went on to a second look is signed by those who looked.
    var went = row.level() == 1 && !round.second().isEmpty();
    return new Signed(
        name,
        row.level(),
        row.signedOffAt(),
        row.signedOffBy(),
        hex,
        hex.isEmpty() || went || signingOff.digest(new Review(round, row)).equals(hex));
  }

  private List<Line> scope(RoundRow round) {
    var lines = new ArrayList<Line>();
    var campaign =
        Optional.ofNullable(
            Campaigns.of(catalogues.asOf(round.asOf()).defined()).get(round.campaignKey()));
    campaign.ifPresent(each -> {
      lines.add(
          new Line(
              "What is judged",
              String.join(", ", each.judged().stream().map(Campaign.Judged::word).toList())));
      each.offered().ifPresent(by -> lines.add(new Line("Given by the offer", by.offer())));
      lines.add(new Line("People", each.people().map(it -> it.text()).orElse("all")));
      lines.add(new Line("Holdings", each.holdings().map(it -> it.text()).orElse("all")));
      if (each.heldDays() > 0) {
        lines.add(new Line("Held for", "%d days at least".formatted(each.heldDays())));
      }
      if (each.movedDays() > 0) {
        lines.add(new Line("Moved within", "%d days".formatted(each.movedDays())));
      }
      lines.add(new Line("Judged by", each.reviewers().words()));
      each.second().ifPresent(who -> lines.add(new Line("A second look by", who.words())));
    });
    lines.add(new Line("Undecided when it is over", round.closing()));
    return lines;
  }
}
