package glenmoor.engine.campaigns;

import glenmoor.core.campaigns.Campaign;
import glenmoor.core.letters.Letter;
import glenmoor.core.letters.LetterKind;
import glenmoor.core.requests.Campaigns;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.letters.Outbox;
import glenmoor.engine.letters.Outbox.Unwritten;
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
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Tells reviewers what waits for them, others who is late, and holders what goes. */
@Named
final class CampaignLetters {
  private static final Logger LOG = LoggerFactory.getLogger(CampaignLetters.class);
  private static final DateTimeFormatter DAY =
      DateTimeFormatter.ofPattern("d MMM yyyy", Locale.ENGLISH);
  private static final int NAMED = 10;

  private final RoundMapper rounds;
  private final ItemMapper items;
  private final PersonMapper people;
  private final ReviewersFound found;
  private final Outbox outbox;
  private final Catalogues catalogues;
  private final Clock clock;

  CampaignLetters(
      RoundMapper rounds,
      ItemMapper items,
      PersonMapper people,
      ReviewersFound found,
      Outbox outbox,
      Catalogues catalogues,
      Clock clock) {
    this.rounds = rounds;
    this.items = items;
    this.people = people;
    this.found = found;
    this.outbox = outbox;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  private Optional<Letter> letter(RoundRow round, Function<Campaign, String> which) {
    var defined = catalogues.current().defined();
    return Optional.ofNullable(Campaigns.of(defined).get(round.campaignKey()))
        .map(which)
        .flatMap(key -> Optional.ofNullable(defined.all(LetterKind.class).get(key)));
  }

  /**
   * Reviewers who have something undecided, with how much.
   *
   * @param only this one; null for all
   */
  private Map<ReviewerRow, Integer> open(RoundRow round, @Nullable ReviewerRow only) {
    var undecided = new HashMap<Long, Integer>();
    (only == null ? items.countsOfRound(round.id()) : items.counts(List.of(only.id())))
        .stream()
            .filter(each -> each.state().equals("undecided") || each.state().equals("decided"))
            .forEach((StateCount each) ->
                undecided.merge(each.reviewerId(), each.items(), Integer::sum));
    var open = new LinkedHashMap<ReviewerRow, Integer>();
    (only == null ? rounds.reviewers(round.id()) : List.of(only))
        .stream()
            .filter(row -> row.signedOffAt() == null && undecided.containsKey(row.id()))
            .forEach(row -> open.put(row, undecided.get(row.id())));
    return open;
  }

  /**
   * Tells those who are not done what waits for them.
   *
   * @param occasion what makes it one letter
   * @param only of this reviewer; null for all
   * @return how many letters were written
   */
  int remind(RoundRow round, String occasion, @Nullable ReviewerRow only) {
    var letter = letter(round, Campaign::waitsLetter);
    if (letter.isEmpty()) {
      return 0;
    }
    var waiting = new HashMap<Long, Integer>();
    open(round, only)
        .forEach((reviewer, number) ->
            found.judges(reviewer).forEach(person -> waiting.merge(person, number, Integer::sum)));
    var written = 0;
    for (var person : found.people(waiting.keySet())) {
      var number = waiting.getOrDefault(person.id(), 0);
      written +=
          write(
              letter.get(),
              person,
              "%s in “%s” until %s"
                  .formatted(
                      number == 1
                          ? "1 item waits to be judged"
                          : "%,d items wait to be judged".formatted(number),
                      round.name(),
                      day(round.dueAt())),
              round,
              "waits:%d:%s".formatted(round.id(), occasion));
    }
    return written;
  }

  private String day(Instant at) {
    return DAY.format(at.atZone(catalogues.zone()));
  }

  private int write(
      Letter letter, PersonRow recipient, String work, RoundRow round, String onceKey) {
    try {
      outbox.remind(
          letter,
          recipient,
          work,
          round.dueAt().atZone(catalogues.zone()).toLocalDate(),
          new Outbox.Cause(null, onceKey, "round:" + round.id()));
      return 1;
    } catch (Unwritten unwritten) {
      // The others are told all the same.
      LOG.warn("Somebody cannot be told of a campaign: {}", unwritten.getMessage());
      return 0;
    }
  }

  /** Tells the managers of those who are late, and those who lead it. */
  void escalate(RoundRow round) {
    var letter = letter(round, Campaign::lateLetter);
    if (letter.isEmpty()) {
      return;
    }
    var late = open(round, null);
    var told = new HashMap<Long, Set<String>>();
    var leads = found.judges(ReviewersFound.leads(round.campaignKey()));
    late.forEach((reviewer, number) -> {
      var line = "%s (%,d left)".formatted(found.name(reviewer), number);
      var judges = found.judges(reviewer);
      leads.forEach(lead -> told.computeIfAbsent(lead, id -> new TreeSet<>()).add(line));
      if (judges.size() == 1) {
        found
            .above(judges.iterator().next())
            .map(who -> who.acting())
            .ifPresent(manager -> told.computeIfAbsent(manager, id -> new TreeSet<>()).add(line));
      }
    });
    for (var person : found.people(told.keySet())) {
      var lines = List.copyOf(told.getOrDefault(person.id(), Set.of()));
      var named = lines.stream().limit(NAMED).collect(Collectors.joining(", "));
      write(
          letter.get(),
          person,
          "“%s” is over on %s, and these are not done: %s%s"
              .formatted(
                  round.name(),
                  day(round.dueAt()),
                  named,
                  lines.size() > NAMED ? ", and %,d more".formatted(lines.size() - NAMED) : ""),
          round,
          "late:%d:%s".formatted(round.id(), round.dueAt()));
    }
  }

  /**
   * Tells holders what goes from them.
   *
   * @return how many items it was about; 0 once all are told of
   */
  int tellHolders(RoundRow round, int atOnce) {
    var untold = items.untold(round.id(), atOnce);
    if (untold.isEmpty()) {
      return 0;
    }
    var letter = letter(round, Campaign::revokedLetter);
    if (letter.isPresent()) {
      var byPerson =
          untold.stream()
              .collect(
                  Collectors.groupingBy(item -> Optional.ofNullable(item.personId()).orElse(0L)));
      for (var person : found.people(byPerson.keySet())) {
        var its = byPerson.getOrDefault(person.id(), List.of());
        write(
            letter.get(),
            person,
            goes(its, round),
            round,
            "revoked:%d:%d".formatted(round.id(), its.getFirst().id()));
      }
    }
    items.told(untold.stream().map(ItemRow::id).toList());
    return untold.size();
  }

  private String goes(List<ItemRow> its, RoundRow round) {
    var names = new ArrayList<String>();
    its.stream()
        .limit(NAMED)
        .forEach(item -> names.add("“" + Things.name(item, catalogues.current()) + "”"));
    var more = its.size() > NAMED ? " and %,d more".formatted(its.size() - NAMED) : "";
    var acts = its.getFirst().actsAt();
    return round.answerDays() > 0 && acts != null && acts.isAfter(clock.instant())
        ? "%s%s would go on %s; whoever needs it says so before"
            .formatted(String.join(", ", names), more, day(acts))
        : "%s%s goes".formatted(String.join(", ", names), more);
  }
}
