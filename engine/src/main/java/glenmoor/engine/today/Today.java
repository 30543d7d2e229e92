package glenmoor.engine.today;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;
import glenmoor.core.brakes.KeptChange;
import glenmoor.core.lifecycle.KeptFeed;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Person;
import glenmoor.core.people.Standing;
import glenmoor.core.people.WorkListEntry;
import glenmoor.core.provisioning.OperationSearch;
import glenmoor.core.provisioning.OperationView;
import glenmoor.engine.applications.HealthChecks;
import glenmoor.engine.brakes.HeldChanges;
import glenmoor.engine.campaigns.ReviewViews;
import glenmoor.engine.conflicts.ConflictViews;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.names.NameSearch;
import glenmoor.engine.playbooks.AskService;
import glenmoor.engine.playbooks.RunViews;
import glenmoor.engine.provisioning.Planning;
import glenmoor.engine.reconcile.DriftService;
import glenmoor.engine.requests.RequestLists;
import glenmoor.engine.time.Clock;
import glenmoor.store.lifecycle.EventMapper;
import glenmoor.store.lifecycle.FeedMapper;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonSearch;
import glenmoor.store.provisioning.OperationMapper;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** What each signed-in person sees first, and the finder. */
@Named
public final class Today {
  private static final int MOST_ASKS = 100;

  private static final Duration COUNTED_FOR = Duration.ofMinutes(1);

  private static final int DAYS_AHEAD = 7;
  private static final int MOST = 50;
  private static final int FOUND_EACH = 6;

  /** Something that happens to a person on a day soon. */
  public record Upcoming(String worker, String name, String what, LocalDate day, String detail) {}

  /** How many events of a kind there were since yesterday. */
  public record Moved(String kind, int events) {}

  /** The page. */
  public record Page(
      Instant now,
      String zone,
      List<OperationView> faults,
      List<HealthChecks.Unwell> unwell,
      List<KeptFeed> feeds,
      List<Moved> moved,
      List<Upcoming> upcoming,
      int people,
      List<KeptChange> held,
      List<DriftService.OpenDrift> drift,
      int tasks,
      List<WorkListEntry> troubles,
      int troubled,
      @Nullable Instant planningLateSince) {}

  /** Something that can be gone to. */
  public record Found(String kind, String key, String name, String detail) {}

  private final Cache<LocalDate, Integer> working =
      Caffeine.newBuilder().expireAfterWrite(COUNTED_FOR).maximumSize(2).build();
  private final PersonMapper people;
  private final NameSearch names;
  private final EventMapper events;
  private final FeedMapper feeds;
  private final OperationMapper operations;
  private final HealthChecks health;
  private final HeldChanges held;
  private final DriftService drift;
  private final AskService asks;
  private final RequestLists requests;
  private final ReviewViews reviews;
  private final ConflictViews conflicts;
  private final RunViews runs;
  private final Planning planning;
  private final Catalogues catalogues;
  private final Clock clock;

  public Today(
      PersonMapper people,
      NameSearch names,
      EventMapper events,
      FeedMapper feeds,
      OperationMapper operations,
      HealthChecks health,
      HeldChanges held,
      DriftService drift,
      AskService asks,
      RequestLists requests,
      ReviewViews reviews,
      ConflictViews conflicts,
      RunViews runs,
      Planning planning,
      Catalogues catalogues,
      Clock clock) {
    this.people = people;
    this.names = names;
    this.events = events;
    this.feeds = feeds;
    this.operations = operations;
    this.health = health;
    this.held = held;
    this.drift = drift;
    this.asks = asks;
    this.requests = requests;
    this.reviews = reviews;
    this.conflicts = conflicts;
    this.runs = runs;
    this.planning = planning;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  public Page page(Actor actor) {
    var now = clock.instant();
    var today = now.atZone(catalogues.zone()).toLocalDate();
    var reach = actor.reach(Permission.SEE_APPLICATIONS, Scope.Kind.APPLICATION);
    var worksApplications = !reach.isNothing();
    var worksList = actor.may(Permission.SEE_WORK_LIST);
    var all = actor.may(Permission.SEE_EVERYBODY);
    var yesterday = now.minus(Duration.ofDays(1));
    return new Page(
        now,
        catalogues.zone().getId(),
        worksApplications
            ? operations.search(
                new OperationSearch(List.of("fault"), null, null, null, null, null, MOST),
                reach.keys())
            : List.of(),
        worksApplications ? health.unwell(reach) : List.of(),
        all ? recent(yesterday) : List.of(),
        all
            ? events.counts(yesterday, now.plusSeconds(1)).stream()
                .map(count -> new Moved(count.kind(), count.events()))
                .toList()
            : List.of(),
        upcoming(today, all ? null : worker(actor)),
        all ? working(today) : 0,
        actor.may(Permission.SEE_HELD_CHANGES)
            ? held.list("held", Long.MAX_VALUE, MOST, actor)
            : List.of(),
        drift.asked(actor),
        tasks(actor),
        worksList ? people.troubles(MOST) : List.of(),
        worksList ? people.countTroubles() : 0,
        worksList ? planning.lateSince() : null);
  }

  /**
   * How many things wait for somebody, counted without fetching them: groups of faults alike,
   * applications that are unwell or whose drift waits for them, feeds with rejected rows, held
   * changes, reviews that are not signed off, open conflicts of their people and rules, and one
   * each for tasks, for people on the work list and for planning that is late.
   */
  public int waiting(Actor actor) {
    var reach = actor.reach(Permission.SEE_APPLICATIONS, Scope.Kind.APPLICATION);
    var waiting = 0;
    if (!reach.isNothing()) {
      waiting += operations.countFaultsAlike(reach.keys()) + health.unwell(reach).size();
    }
    waiting += drift.asked(actor).size() + (tasks(actor) > 0 ? 1 : 0);
    waiting += requests.waiting(MOST_ASKS, actor);
    waiting += reviews.waiting(actor);
    waiting += conflicts.waiting(MOST, actor);
    waiting += asks.open(false, Long.MAX_VALUE, MOST_ASKS, actor).size();
    if (actor.may(Permission.PLAY_PLAYBOOKS)) {
      waiting += runs.stuck();
    }
    if (actor.may(Permission.SEE_EVERYBODY)) {
      waiting += feeds.countUnclean(clock.instant().minus(Duration.ofDays(1)));
    }
    if (actor.may(Permission.SEE_HELD_CHANGES)) {
      waiting += held.waiting(actor);
    }
    if (actor.may(Permission.SEE_WORK_LIST)) {
      waiting += people.countTroubles() > 0 ? 1 : 0;
      waiting += planning.lateSince() == null ? 0 : 1;
    }
    return waiting;
  }

  /** How many things there are to do by hand for somebody. */
  private int tasks(Actor actor) {
    var reach = actor.reach(Permission.DECIDE_OPERATIONS, Scope.Kind.APPLICATION);
    return reach.isNothing() ? 0 : operations.countTasks(reach.keys());
  }

  private static String worker(Actor actor) {
    var worker = actor.worker();
    return worker == null ? "" : worker;
  }

  private List<KeptFeed> recent(Instant since) {
    return feeds.before(Long.MAX_VALUE, 10).stream()
        .filter(feed -> feed.startedAt().isAfter(since))
        .toList();
  }

  /**
   * How many people are active; counted once a minute at the most, because it takes all of them.
   */
  private int working(LocalDate today) {
    return Objects.requireNonNull(
        working.get(
            today,
            day ->
                people.count(PersonSearch.first(null, false, Map.of(), "active", day, null, 1))));
  }

  private List<Upcoming> upcoming(LocalDate today, @Nullable String manager) {
    var until = today.plusDays(DAYS_AHEAD);
    var catalogue = catalogues.current();
    var found = new ArrayList<Upcoming>();
    for (var row : people.upcoming(today, until, manager, MOST)) {
      var person = FactsJson.person(row, catalogue.facts());
      var detail = catalogue.subtitle(person.facts());
      if (!Standing.of(person, today).isGone()) {
        Stream.of(
                day(person, detail, Facts.START, "starts", 0),
                day(person, detail, Facts.END, "last day", 0),
                day(person, detail, Facts.LEAVE_FROM, "leave begins", 0),
                day(person, detail, Facts.LEAVE_TO, "back from leave", 1))
            .flatMap(List::stream)
            .filter(each -> !each.day().isBefore(today) && !each.day().isAfter(until))
            .forEach(found::add);
      }
    }
    found.sort(Comparator.comparing(Upcoming::day).thenComparing(Upcoming::name));
    return found;
  }

  private static List<Upcoming> day(
      Person person, String detail, String fact, String what, int later) {
    return person
        .facts()
        .date(fact)
        .map(day ->
            List.of(
                new Upcoming(
                    person.worker().value(),
                    person.facts().fullName(),
                    what,
                    day.plusDays(later),
                    detail)))
        .orElse(List.of());
  }

  /** Things whose name contains the text: people first. */
  public List<Found> find(String text, Actor actor) {
    var today = clock.instant().atZone(catalogues.zone()).toLocalDate();
    var catalogue = catalogues.current();
    var found = new ArrayList<Found>();
    var limits = actor.may(Permission.SEE_EVERYBODY) ? null : worker(actor);
    names
        .list(
            PersonSearch.first(
                text, people.isWorker(text), Map.of(), null, today, limits, FOUND_EACH))
        .forEach(row ->
            found.add(
                new Found(
                    "person",
                    row.workerNumber(),
                    row.name(),
                    catalogue.subtitle(FactsJson.read(row.facts(), catalogue.facts())))));
    var reach = actor.reach(Permission.SEE_APPLICATIONS, Scope.Kind.APPLICATION);
    if (!reach.isNothing()) {
      var lower = text.toLowerCase(Locale.ROOT);
      catalogue.applications().stream()
          .filter(each -> reach.covers(each.key()) && matches(lower, each.key(), each.name()))
          .limit(FOUND_EACH)
          .forEach(each ->
              found.add(new Found("application", each.key(), each.name(), each.connector())));
    }
    return found;
  }

  private static boolean matches(String lower, String... names) {
    return Stream.of(names).anyMatch(name -> name.toLowerCase(Locale.ROOT).contains(lower));
  }
}
