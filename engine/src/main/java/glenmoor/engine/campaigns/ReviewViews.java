package glenmoor.engine.campaigns;

import glenmoor.core.authorization.Actor;
import glenmoor.core.campaigns.ItemRemark;
import glenmoor.core.campaigns.ItemSearch;
import glenmoor.core.campaigns.RoundState;
import glenmoor.engine.access.Revoking;
import glenmoor.engine.campaigns.CampaignConcerns.Review;
import glenmoor.engine.campaigns.CampaignViews.Mix;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.time.Clock;
import glenmoor.store.campaigns.ItemMapper;
import glenmoor.store.campaigns.ItemMapper.ItemRow;
import glenmoor.store.campaigns.ItemMapper.StateCount;
import glenmoor.store.campaigns.RoundMapper;
import glenmoor.store.campaigns.RoundMapper.ReviewerRow;
import glenmoor.store.campaigns.RoundMapper.RoundRow;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** What reviewers see: what is theirs to judge, and what would go. */
@Named
public final class ReviewViews {
  private static final int PEOPLE = 500;

  /**
   * What somebody has to judge in a round.
   *
   * @param kind person, or what those who may judge it have in common
   * @param careful how many undecided ones are not suggested to stay
   * @param yours whether the actor judges it, or only sees it
   * @param held the held change that its sign-off waits in; empty for none
   */
  public record ReviewShown(
      long id,
      long round,
      String campaign,
      String name,
      String about,
      String reviewer,
      String kind,
      int level,
      Instant asOf,
      Instant dueAt,
      String roundState,
      boolean selfReview,
      int answerDays,
      Mix mix,
      int careful,
      @Nullable Instant signedOffAt,
      String signedOffBy,
      boolean yours,
      String held) {}

  /** How many people lose something. */
  public record Goes(String name, int people) {}

  /**
   * What a sign-off would take.
   *
   * @param ends names of packages and rights that end as a whole
   * @param stays names of packages that stay without it, because they give more or a rule gives
   *     them
   * @param looked of how many people that was looked at
   */
  public record WouldGo(
      int items, int people, List<Goes> goes, List<Goes> ends, List<Goes> stays, int looked) {}

  /** An item with what was said to it. */
  public record ItemOpened(ItemViews.ItemShown item, List<ItemRemark> remarks) {}

  private final RoundMapper rounds;
  private final ItemMapper items;
  private final PersonMapper people;
  private final CampaignConcerns concerns;
  private final ReviewersFound found;
  private final BrakedSignOff signOffs;
  private final RevokedTaken revoked;
  private final Revoking revoking;
  private final ItemViews views;
  private final Catalogues catalogues;
  private final Clock clock;

  ReviewViews(
      RoundMapper rounds,
      ItemMapper items,
      PersonMapper people,
      CampaignConcerns concerns,
      ReviewersFound found,
      BrakedSignOff signOffs,
      RevokedTaken revoked,
      Revoking revoking,
      ItemViews views,
      Catalogues catalogues,
      Clock clock) {
    this.rounds = rounds;
    this.items = items;
    this.people = people;
    this.concerns = concerns;
    this.found = found;
    this.signOffs = signOffs;
    this.revoked = revoked;
    this.revoking = revoking;
    this.views = views;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  /** What waits for the actor in rounds that go on, what is due first coming first. */
  public List<ReviewShown> mine(Actor actor) {
    return shown(rows(actor), actor).stream()
        .filter(each -> each.mix().items() > 0)
        .sorted((one, other) -> one.dueAt().compareTo(other.dueAt()))
        .toList();
  }

  /** How many reviews wait for the actor to sign them off. */
  public int waiting(Actor actor) {
    var open =
        rows(actor).stream().filter(row -> row.signedOffAt() == null).map(ReviewerRow::id).toList();
    return open.isEmpty()
        ? 0
        : (int)
            items.counts(open).stream()
                .filter(each -> each.items() > 0)
                .map(StateCount::reviewerId)
                .distinct()
                .count();
  }

  /** Whatever the actor judges in rounds that go on, whether anything is left of it or not. */
  private List<ReviewerRow> rows(Actor actor) {
    var own = concerns.own(actor);
    if (own == null) {
      return List.of();
    }
    var rows = new ArrayList<>(rounds.ofPerson(own));
    rows.addAll(found.among(rounds.ofGroups(), own));
    return rows;
  }

  private List<ReviewShown> shown(List<ReviewerRow> rows, Actor actor) {
    if (rows.isEmpty()) {
      return List.of();
    }
    var counts =
        items.counts(rows.stream().map(ReviewerRow::id).toList()).stream()
            .collect(Collectors.groupingBy(StateCount::reviewerId));
    var known =
        rounds.byIds(rows.stream().map(ReviewerRow::roundId).collect(Collectors.toSet())).stream()
            .collect(Collectors.toMap(RoundRow::id, row -> row));
    var about =
        found
            .people(
                known.values().stream()
                    .flatMap(round -> Stream.ofNullable(round.personId()))
                    .toList())
            .stream()
            .collect(Collectors.toMap(PersonRow::id, PersonRow::name));
    var names = found.names(rows);
    var own = concerns.own(actor);
    var held = signOffs.allWaiting();
    var all = new ArrayList<ReviewShown>();
    for (var row : rows) {
      var round = Objects.requireNonNull(known.get(row.roundId()));
      var its = counts.getOrDefault(row.id(), List.of());
      all.add(
          new ReviewShown(
              row.id(),
              round.id(),
              round.campaignKey(),
              round.name(),
              round.personId() == null ? "" : about.getOrDefault(round.personId(), ""),
              names.name(row),
              row.kind(),
              row.level(),
              round.asOf(),
              round.dueAt(),
              round.state(),
              round.selfReview(),
              round.answerDays(),
              Mix.of(its),
              its.stream()
                  .filter(each -> each.state().equals("undecided"))
                  .mapToInt(StateCount::careful)
                  .sum(),
              row.signedOffAt(),
              row.signedOffBy(),
              concerns.judges(row, own),
              row.signedOffAt() != null ? "" : held.apply(new Review(round, row))));
    }
    return all;
  }

  /**
   * One review.
   *
   * @throws glenmoor.engine.Refused as if there were none to whom it does not concern
   */
  public ReviewShown show(long id, Actor actor) {
    return shown(List.of(concerns.seen(id, actor).reviewer()), actor).getFirst();
  }

  /** Its items; the search says which, of this review whatever it says else. */
  public List<ItemViews.ItemShown> items(long id, ItemSearch search, Actor actor) {
    concerns.seen(id, actor);
    return views.shown(items.search(search), actor);
  }

  /** One item, with what was said to it. */
  public ItemOpened item(long id, Actor actor) {
    var row = concerns.item(id, actor);
    return new ItemOpened(views.shown(List.of(row), actor).getFirst(), items.remarks(id));
  }

  /** What was announced to the actor, and they may say that they need. */
  public List<ItemViews.ItemShown> announced(Actor actor) {
    var own = concerns.own(actor);
    return own == null ? List.of() : views.shown(items.announcedTo(own), actor);
  }

  /** What a sign-off would take, by what it is, with what ends and what stays without it. */
  public WouldGo wouldGo(long id, Actor actor) {
    var review = concerns.seen(id, actor);
    var catalogue = catalogues.current();
    var now = clock.instant();
    var revokes = revokes(review);
    var names = new TreeMap<String, Integer>();
    revokes.forEach(item -> names.merge(Things.name(item, catalogue), 1, Integer::sum));
    var byPerson = new TreeMap<Long, List<ItemRow>>();
    revokes.forEach(item ->
        Optional.ofNullable(item.personId())
            .ifPresent(
                person -> byPerson.computeIfAbsent(person, key -> new ArrayList<>()).add(item)));
    var looked = byPerson.keySet().stream().limit(PEOPLE).toList();
    var held = revoking.held(looked, now);
    var ends = new TreeMap<String, Integer>();
    var stays = new TreeMap<String, Integer>();
    var rows =
        looked.isEmpty()
            ? Map.<Long, PersonRow>of()
            : people.byIds(looked).stream().collect(Collectors.toMap(PersonRow::id, row -> row));
    for (var person : looked) {
      var grants = held.getOrDefault(person, List.of());
      var row = Objects.requireNonNull(rows.get(person));
      var taken = revoked.taken(row, byPerson.getOrDefault(person, List.of()), grants);
      var effect = Revoking.would(taken, grants, catalogue, now);
      effect.ended().forEach(grant -> ends.merge(catalogue.name(grant.target()), 1, Integer::sum));
      effect.reduced().stream()
          .map(grant -> catalogue.name(grant.target()))
          .distinct()
          .forEach(name -> stays.merge(name, 1, Integer::sum));
    }
    return new WouldGo(
        revokes.size(), byPerson.size(), goes(names), goes(ends), goes(stays), looked.size());
  }

  private List<ItemRow> revokes(Review review) {
    var all = new ArrayList<ItemRow>();
    var after = 0L;
    while (true) {
      var page =
          items.search(
              ItemSearch.of(
                  review.reviewer().id(),
                  review.round().id(),
                  review.round().state().equals(RoundState.OPEN.word()) ? "decided" : null,
                  "revoke",
                  after,
                  PEOPLE));
      all.addAll(page);
      if (page.size() < PEOPLE) {
        return all;
      }
      after = page.getLast().id();
    }
  }

  private static List<Goes> goes(Map<String, Integer> counts) {
    return counts.entrySet().stream()
        .map(each -> new Goes(each.getKey(), each.getValue()))
        .sorted((one, other) -> Integer.compare(other.people(), one.people()))
        .toList();
  }
}
