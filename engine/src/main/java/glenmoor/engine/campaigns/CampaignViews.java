package glenmoor.engine.campaigns;

import glenmoor.core.access.Catalogue;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.campaigns.Campaign;
import glenmoor.core.campaigns.ItemSearch;
import glenmoor.core.campaigns.RoundState;
import glenmoor.core.campaigns.RoundsCompared;
import glenmoor.core.requests.Campaigns;
import glenmoor.engine.Authorization;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.time.Clock;
import glenmoor.store.campaigns.ItemMapper;
import glenmoor.store.campaigns.ItemMapper.DayCount;
import glenmoor.store.campaigns.ItemMapper.Pace;
import glenmoor.store.campaigns.ItemMapper.StateCount;
import glenmoor.store.campaigns.RoundMapper;
import glenmoor.store.campaigns.RoundMapper.ReviewerRow;
import glenmoor.store.campaigns.RoundMapper.RoundRow;
import glenmoor.store.people.PersonRow;
import jakarta.inject.Named;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** Campaigns and their rounds, for those who lead them and those who see to it that they do. */
@Named
public final class CampaignViews {
  private static final int REVIEWERS = 500;
  private static final int FAULTS = 50;

  /** Kept so many in one minute, a reviewer may not have looked. */
  private static final int FAST = 30;

  /**
   * A campaign as it is defined.
   *
   * @param next when its next round begins by itself; null for never
   * @param open its round that goes on; null for none
   * @param last its round before; null for none
   */
  public record CampaignListed(
      String key,
      String name,
      List<String> judged,
      String reviewers,
      int days,
      String closing,
      boolean onMove,
      @Nullable Instant next,
      @Nullable RoundListed open,
      @Nullable RoundListed last,
      boolean leads) {}

  /** How many items are how. */
  public record Mix(int items, int undecided, int kept, int revoked, int following, int ended) {
    static Mix of(List<StateCount> counts) {
      var by = new HashMap<String, Integer>();
      var all = 0;
      for (var each : counts) {
        all += each.items();
        var what =
            switch (each.state()) {
              case "undecided" -> "undecided";
              case "ended" -> "ended";
              default -> each.judgement();
            };
        by.merge(what, each.items(), Integer::sum);
        if (each.state().equals("announced") || each.state().equals("removing")) {
          by.merge("following", each.items(), Integer::sum);
        }
      }
      return new Mix(
          all,
          by.getOrDefault("undecided", 0),
          by.getOrDefault("keep", 0),
          by.getOrDefault("revoke", 0),
          by.getOrDefault("following", 0),
          by.getOrDefault("ended", 0));
    }
  }

  /**
   * A round in a list.
   *
   * @param about whom alone it is about; empty for everybody in its scope
   */
  public record RoundListed(
      long id,
      String campaign,
      String name,
      String about,
      String state,
      Instant asOf,
      Instant dueAt,
      int items,
      int people,
      @Nullable Instant endedAt,
      String endReason,
      @Nullable Long work) {}

  /** How much was decided on a day. */
  public record Day(LocalDate day, int items) {}

  /**
   * A reviewer's row of the campaign's weather.
   *
   * @param late whether the round's half is over and less than half is done
   * @param fastest the most they kept in one minute, where that is a sign; 0 for none
   */
  public record ReviewerShown(
      long review,
      String reviewer,
      String kind,
      int level,
      String actsFor,
      Mix mix,
      @Nullable Instant signedOffAt,
      String signedOffBy,
      boolean late,
      int fastest,
      List<Day> days) {}

  /**
   * A round with all there is to see.
   *
   * @param more how many reviewers are not shown
   * @param following what was revoked and is not confirmed, at most 50, with what its operations
   *     say
   * @param compared with the round before; null where there was none
   */
  public record RoundShown(
      RoundListed round,
      String launchedBy,
      String occasion,
      String closing,
      int answerDays,
      int extended,
      Mix mix,
      Map<String, Integer> states,
      List<ReviewerShown> reviewers,
      int more,
      List<ItemViews.ItemShown> following,
      @Nullable Long before,
      @Nullable RoundsCompared compared,
      boolean leads) {}

  private final RoundMapper rounds;
  private final ItemMapper items;
  private final CampaignConcerns concerns;
  private final ReviewersFound found;
  private final ItemViews views;
  private final Catalogues catalogues;
  private final Clock clock;

  CampaignViews(
      RoundMapper rounds,
      ItemMapper items,
      CampaignConcerns concerns,
      ReviewersFound found,
      ItemViews views,
      Catalogues catalogues,
      Clock clock) {
    this.rounds = rounds;
    this.items = items;
    this.concerns = concerns;
    this.found = found;
    this.views = views;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  private static List<Campaign> seen(Catalogue catalogue, Actor actor) {
    return Campaigns.of(catalogue.defined()).values().stream()
        .filter(each -> CampaignConcerns.sees(each.key(), actor))
        .toList();
  }

  /** Those that the actor sees. */
  public List<CampaignListed> list(Actor actor) {
    Authorization.needSomewhere(actor, Permission.SEE_CAMPAIGNS);
    var catalogue = catalogues.current();
    var now = clock.instant();
    return seen(catalogue, actor).stream()
        .map(each -> {
          var open = rounds.open(each.key());
          var last = rounds.last(each.key());
          return new CampaignListed(
              each.key(),
              each.name(),
              each.judged().stream().map(Campaign.Judged::word).toList(),
              each.reviewers().words(),
              each.days(),
              each.closing().word(),
              each.onMove(),
              each.rhythm().flatMap(at -> at.next(now, catalogue.zone())).orElse(null),
              open == null ? null : listed(open),
              last == null || open != null && open.id().equals(last.id()) ? null : listed(last),
              CampaignConcerns.leads(each.key(), actor));
        })
        .toList();
  }

  /** Rounds of campaigns that the actor sees, the newest first. */
  public List<RoundListed> rounds(
      @Nullable String campaign, @Nullable String state, long before, int limit, Actor actor) {
    Authorization.needSomewhere(actor, Permission.SEE_CAMPAIGNS);
    var all = new ArrayList<RoundRow>();
    var from = before;
    // Those of other campaigns are passed over, so a page may take more than one look.
    while (all.size() < limit) {
      var page = rounds.list(campaign, state, from, limit);
      page.stream()
          .filter(row -> CampaignConcerns.sees(row.campaignKey(), actor))
          .limit(limit - all.size())
          .forEach(all::add);
      if (page.size() < limit) {
        break;
      }
      from = page.getLast().id();
    }
    return listed(all);
  }

  private RoundListed listed(RoundRow row) {
    return listed(List.of(row)).getFirst();
  }

  private List<RoundListed> listed(List<RoundRow> rows) {
    var names =
        found
            .people(rows.stream().flatMap(row -> Stream.ofNullable(row.personId())).toList())
            .stream()
            .collect(Collectors.toMap(PersonRow::id, PersonRow::name));
    return rows.stream()
        .map(row ->
            listed(row, row.personId() == null ? "" : names.getOrDefault(row.personId(), "")))
        .toList();
  }

  private static RoundListed listed(RoundRow row, String about) {
    return new RoundListed(
        row.id(),
        row.campaignKey(),
        row.name(),
        about,
        row.state(),
        row.asOf(),
        row.dueAt(),
        row.items(),
        row.people(),
        row.endedAt(),
        row.endReason(),
        row.state().equals(RoundState.LAUNCHING.word()) ? row.work() : null);
  }

  /**
   * One round, with who is how far.
   *
   * @throws glenmoor.engine.Refused as if there were none to whom does not see its campaign
   */
  public RoundShown show(long id, Actor actor) {
    var round = concerns.round(id, actor);
    var counts = items.countsOfRound(id);
    var byReviewer = counts.stream().collect(Collectors.groupingBy(StateCount::reviewerId));
    var reviewers = rounds.reviewers(id);
    var states = new TreeMap<String, Integer>();
    counts.forEach(each -> states.merge(each.state(), each.items(), Integer::sum));
    return new RoundShown(
        listed(round),
        round.launchedBy(),
        round.occasion(),
        round.closing(),
        round.answerDays(),
        round.extended(),
        Mix.of(counts),
        states,
        weather(round, reviewers, byReviewer),
        Math.max(0, reviewers.size() - REVIEWERS),
        following(round, actor),
        round.beforeId(),
        round.beforeId() == null ? null : items.compare(id, round.beforeId()),
        CampaignConcerns.leads(round.campaignKey(), actor));
  }

  private List<ReviewerShown> weather(
      RoundRow round, List<ReviewerRow> reviewers, Map<Long, List<StateCount>> counts) {
    var pace = new HashMap<Long, Integer>();
    items
        .pace(round.id(), FAST)
        .forEach((Pace each) -> pace.merge(each.reviewerId(), each.kept(), Integer::max));
    var days = new HashMap<Long, List<Day>>();
    items
        .days(round.id(), catalogues.zone().getId())
        .forEach((DayCount each) ->
            days.computeIfAbsent(each.reviewerId(), key -> new ArrayList<>())
                .add(new Day(each.day(), each.items())));
    var half =
        clock
            .instant()
            .isAfter(
                round
                    .asOf()
                    .plus(java.time.Duration.between(round.asOf(), round.dueAt()).dividedBy(2)));
    var mixes = new HashMap<Long, Mix>();
    reviewers.forEach(row -> mixes.put(row.id(), Mix.of(counts.getOrDefault(row.id(), List.of()))));
    var first =
        reviewers.stream()
            // Whoever stands for nobody's items any more has passed all of them on.
            .filter(row -> mix(row, mixes).items() > 0 || row.signedOffAt() != null)
            .sorted(
                Comparator.comparing((ReviewerRow row) -> row.signedOffAt() != null)
                    .thenComparing(row -> -mix(row, mixes).undecided())
                    .thenComparing(ReviewerRow::id))
            .limit(REVIEWERS)
            .toList();
    var names = found.names(first);
    return first.stream()
        .map(row -> {
          var mix = mix(row, mixes);
          return new ReviewerShown(
              row.id(),
              names.name(row),
              row.kind(),
              row.level(),
              Objects.equals(row.personId(), row.actingId()) ? "" : names.person(row.personId()),
              mix,
              row.signedOffAt(),
              row.signedOffBy(),
              half && row.signedOffAt() == null && mix.undecided() * 2 > mix.items(),
              pace.getOrDefault(row.id(), 0),
              days.getOrDefault(row.id(), List.of()));
        })
        .toList();
  }

  private static Mix mix(ReviewerRow row, Map<Long, Mix> mixes) {
    return Objects.requireNonNull(mixes.get(row.id()));
  }

  private List<ItemViews.ItemShown> following(RoundRow round, Actor actor) {
    return views.shown(
        items.search(ItemSearch.of(null, round.id(), "following", null, 0, FAULTS)), actor);
  }

  /** Items of a round, for those who see its campaign. */
  public List<ItemViews.ItemShown> items(long id, ItemSearch search, Actor actor) {
    concerns.round(id, actor);
    return views.shown(items.search(search), actor);
  }
}
