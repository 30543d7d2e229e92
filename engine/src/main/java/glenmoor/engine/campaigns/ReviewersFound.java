package glenmoor.engine.campaigns;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.authorization.Duty;
import glenmoor.core.authorization.Scope;
import glenmoor.core.campaigns.Reviewers;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Standing;
import glenmoor.core.people.Team;
import glenmoor.core.people.TeamKind;
import glenmoor.core.people.WorkerNumber;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.time.Clock;
import glenmoor.store.authorization.DutyMapper;
import glenmoor.store.campaigns.RoundMapper;
import glenmoor.store.campaigns.RoundMapper.NewReviewer;
import glenmoor.store.campaigns.RoundMapper.ReviewerRow;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.requests.AwayMapper;
import glenmoor.store.requests.AwayMapper.AwayRow;
import jakarta.inject.Named;
import java.time.LocalDate;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * Who judges: people in whose place somebody may act, and those who are in a team or have a duty.
 */
@Named
final class ReviewersFound {
  static final String PERSON = "person";
  static final String TEAM = "team";
  private static final int HIGHEST = 10;
  private static final int AT_ONCE = 500;

  private final PersonMapper people;
  private final RoundMapper rounds;
  private final DutyMapper duties;
  private final AwayMapper away;
  private final Catalogues catalogues;
  private final Clock clock;

  ReviewersFound(
      PersonMapper people,
      RoundMapper rounds,
      DutyMapper duties,
      AwayMapper away,
      Catalogues catalogues,
      Clock clock) {
    this.people = people;
    this.rounds = rounds;
    this.duties = duties;
    this.away = away;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  /**
   * Whoever judges, before it is known in which round.
   *
   * @param kind person, team, application-owner, steward or campaign-lead
   * @param person who is meant; null for several
   * @param acting who judges; null for several, or for nobody
   */
  record Who(String kind, String target, @Nullable Long person, @Nullable Long acting) {
    NewReviewer in(long round, int level) {
      return new NewReviewer(round, level, kind, target, person, acting);
    }
  }

  private LocalDate today() {
    return clock.instant().atZone(catalogues.zone()).toLocalDate();
  }

  static Who leads(String campaign) {
    return new Who(Duty.CAMPAIGN_LEAD.word(), campaign, null, null);
  }

  static Who owners(String application) {
    return new Who(Duty.APPLICATION_OWNER.word(), application, null, null);
  }

  static Who stewards(String portfolio) {
    return new Who(Duty.STEWARD.word(), portfolio, null, null);
  }

  /** Those who are named in a definition. */
  Optional<Who> named(Reviewers who, String campaign) {
    return switch (who) {
      case Reviewers.Leads leads -> Optional.of(leads(campaign));
      case Reviewers.OfTeam team -> Optional.of(new Who(TEAM, team.key(), null, null));
      case Reviewers.OnePerson person -> ofWorker(person.worker());
      case Reviewers.LineManagers m -> Optional.empty();
      case Reviewers.Sponsors s -> Optional.empty();
      case Reviewers.Holders h -> Optional.empty();
      case Reviewers.ApplicationOwners a -> Optional.empty();
      case Reviewers.EntitlementOwners e -> Optional.empty();
      case Reviewers.Stewards s -> Optional.empty();
    };
  }

  /** Who answers for an entitlement: as it says, else who owns its application. */
  Who ownerOf(Entitlement entitlement) {
    return Optional.of(entitlement.owner())
        .filter(owner -> !owner.isEmpty())
        .flatMap(Reviewers::of)
        .flatMap(owner -> named(owner, ""))
        .filter(who -> !judges(who.kind(), who.target(), who.person(), who.acting()).isEmpty())
        .orElseGet(() -> owners(entitlement.application()));
  }

  /**
   * People by the keys of their worker numbers, many at once; whom nobody stands for is left out.
   */
  Map<String, Who> ofWorkers(Collection<String> keys) {
    var found = new HashMap<String, Who>();
    var all = List.copyOf(new TreeSet<>(keys));
    for (var from = 0; from < all.size(); from += AT_ONCE) {
      var batch = all.subList(from, Math.min(all.size(), from + AT_ONCE));
      var rows = people.byWorkers(batch);
      var gone = new TreeSet<>(batch);
      var absent = rows.isEmpty() ? List.<AwayRow>of() : covering(rows);
      var isAway = absent.stream().map(AwayRow::personId).collect(Collectors.toSet());
      for (var row : rows) {
        if (isHere(row)) {
          var key = WorkerNumber.key(row.workerNumber());
          gone.remove(key);
          found.put(
              key,
              new Who(
                  PERSON,
                  String.valueOf(row.id()),
                  row.id(),
                  isAway.contains(row.id()) ? actingFor(row.id()) : row.id()));
        }
      }
      gone.forEach(key -> ofWorker(key).ifPresent(who -> found.put(key, who)));
    }
    return found;
  }

  private List<AwayRow> covering(List<PersonRow> rows) {
    return away.covering(rows.stream().map(PersonRow::id).toList(), today());
  }

  /** The keys of the managers of people, by their identities. */
  Map<Long, String> managersOf(Collection<Long> persons) {
    var managers = new HashMap<Long, String>();
    var all = List.copyOf(new TreeSet<>(persons));
    for (var from = 0; from < all.size(); from += AT_ONCE) {
      people
          .byIds(all.subList(from, Math.min(all.size(), from + AT_ONCE)))
          .forEach(row -> managers.put(row.id(), WorkerNumber.key(manager(row))));
    }
    return managers;
  }

  /** Somebody by their worker number; whoever is not here any more is their manager. */
  Optional<Who> ofWorker(String worker) {
    var row = worker.isEmpty() ? null : people.byWorker(worker);
    for (var step = 0; row != null && step < HIGHEST; step++) {
      if (isHere(row)) {
        return Optional.of(
            new Who(PERSON, String.valueOf(row.id()), row.id(), actingFor(row.id())));
      }
      row = managerOf(row);
    }
    return Optional.empty();
  }

  /** The manager of somebody, or whoever stands above them and is here. */
  Optional<Who> above(long person) {
    var row = people.byIds(List.of(person)).stream().findFirst().orElse(null);
    return row == null
        ? Optional.empty()
        : ofWorker(manager(row))
            .filter(who -> !Objects.equals(who.person(), person))
            .filter(who -> !Objects.equals(who.acting(), person));
  }

  private String manager(PersonRow row) {
    return FactsJson.read(row.facts(), catalogues.current().facts()).text(Facts.MANAGER);
  }

  private @Nullable PersonRow managerOf(PersonRow row) {
    var manager = manager(row);
    return manager.isEmpty() ? null : people.byWorker(manager);
  }

  private boolean isHere(PersonRow row) {
    var standing = Standing.of(FactsJson.person(row, catalogues.current().facts()), today());
    return standing == Standing.ACTIVE || standing == Standing.ON_LEAVE;
  }

  /** Who acts for somebody: themselves, or their deputy while they are away. */
  long actingFor(long person) {
    return away.covering(List.of(person), today()).stream()
        .findFirst()
        .map(AwayRow::deputyId)
        .filter(deputy -> people.byIds(List.of(deputy)).stream().anyMatch(this::isHere))
        .orElse(person);
  }

  /**
   * Who judges in the place of people: they, their deputies, or who is above them, where anybody.
   */
  Map<Long, Long> standsFor(Collection<Long> persons) {
    var acting = new HashMap<Long, Long>();
    if (persons.isEmpty()) {
      return acting;
    }
    var rows = people.byIds(List.copyOf(new TreeSet<>(persons)));
    var standing =
        ofWorkers(rows.stream().map(row -> WorkerNumber.key(row.workerNumber())).toList());
    for (var row : rows) {
      var who = standing.get(WorkerNumber.key(row.workerNumber()));
      if (who != null && who.acting() != null) {
        acting.put(row.id(), who.acting());
      }
    }
    return acting;
  }

  /** The people who may judge as this reviewer, now. */
  Set<Long> judges(ReviewerRow row) {
    return judges(row.kind(), row.target(), row.personId(), row.actingId());
  }

  Set<Long> judges(Who who) {
    return judges(who.kind(), who.target(), who.person(), who.acting());
  }

  private Set<Long> judges(
      String kind, String target, @Nullable Long person, @Nullable Long acting) {
    if (kind.equals(PERSON)) {
      var both = new TreeSet<Long>();
      if (acting != null) {
        both.add(acting);
      }
      // Whoever is back before their away period is over may judge as well.
      if (person != null && people.byIds(List.of(person)).stream().anyMatch(this::isHere)) {
        both.add(person);
      }
      return both;
    }
    if (kind.equals(TEAM)) {
      return members(target);
    }
    var duty = Duty.ofWord(kind).orElseThrow();
    var holders = duties.holders(kind, duty.within().word(), target, today());
    if (holders.isEmpty() && duty == Duty.CAMPAIGN_LEAD) {
      var everywhere = Scope.Kind.EVERYTHING.word();
      holders = duties.holders(Duty.ADMINISTRATOR.word(), everywhere, "", today());
    }
    return new TreeSet<>(holders);
  }

  /** Those of some rows that are no one person's, and as which somebody may judge. */
  List<ReviewerRow> among(List<ReviewerRow> groups, long own) {
    var known = new HashMap<String, Boolean>();
    return groups.stream()
        .filter(row ->
            known.computeIfAbsent(
                row.kind() + " " + row.target(), group -> judges(row).contains(own)))
        .toList();
  }

  private Set<Long> members(String key) {
    var team = catalogues.current().defined().all(TeamKind.class).get(key);
    var workers =
        Optional.ofNullable(team).map(Team::members).orElse(List.of()).stream()
            .map(WorkerNumber::key)
            .toList();
    return workers.isEmpty()
        ? Set.of()
        : people.byWorkers(workers).stream()
            .filter(this::isHere)
            .map(PersonRow::id)
            .collect(Collectors.toCollection(TreeSet::new));
  }

  /** One person's row in a round, begun where there is none. */
  ReviewerRow row(long round, int level, Who who) {
    var known = rounds.reviewer(round, level, who.kind(), who.target());
    if (known != null) {
      return known;
    }
    rounds.addReviewers(List.of(who.in(round, level)));
    return Objects.requireNonNull(rounds.reviewer(round, level, who.kind(), who.target()));
  }

  /** What reviewers are called: a person's name, or what those have in common. */
  String name(ReviewerRow row) {
    return names(List.of(row)).name(row);
  }

  /** What some reviewers are called, asked for all at once. */
  ReviewerNames names(Collection<ReviewerRow> rows) {
    var persons =
        rows.stream()
            .flatMap(row -> Stream.of(row.personId(), row.actingId()))
            .filter(Objects::nonNull)
            .distinct()
            .toList();
    return new ReviewerNames(
        people(persons).stream().collect(Collectors.toMap(PersonRow::id, PersonRow::name)));
  }

  /** Names of people, by their identities, and of reviewers among them. */
  final class ReviewerNames {
    private final Map<Long, String> persons;

    private ReviewerNames(Map<Long, String> persons) {
      this.persons = persons;
    }

    /** What a person is called; nothing for nobody. */
    String person(@Nullable Long id) {
      return id == null ? "" : persons.getOrDefault(id, "");
    }

    String name(ReviewerRow row) {
      var acting = person(row.actingId() == null ? row.personId() : row.actingId());
      return row.kind().equals(PERSON)
          ? acting.isEmpty() ? "nobody" : acting
          : groupName(row.kind(), row.target());
    }
  }

  private String groupName(String kind, String target) {
    var catalogue = catalogues.current();
    return switch (kind) {
      case TEAM ->
          Optional.ofNullable(catalogue.defined().all(TeamKind.class).get(target))
              .map(Team::name)
              .orElse(target);
      default -> holdersOf(kind, target, catalogue);
    };
  }

  /** What somebody is called who may be among some rows. */
  String name(Collection<ReviewerRow> rows, Who who) {
    return rows.stream()
        .filter(row -> row.kind().equals(who.kind()) && row.target().equals(who.target()))
        .map(this::name)
        .findFirst()
        .orElse("");
  }

  private static String holdersOf(String kind, String target, Catalogue catalogue) {
    return switch (Duty.ofWord(kind).orElseThrow()) {
      case APPLICATION_OWNER ->
          catalogue.applications().stream()
              .filter(each -> each.key().equals(target))
              .map(each -> "Owners of " + each.name())
              .findFirst()
              .orElse("Owners of " + target);
      case STEWARD -> "Stewards of " + target;
      case CAMPAIGN_LEAD -> "Those who lead it";
      case ADMINISTRATOR, AUDITOR, PEOPLE_DESK, SOURCE_CLIENT, BUNDLER, CONFLICT_OWNER, FIXER ->
          kind;
    };
  }

  /** Names of people, by their identities. */
  Collection<PersonRow> people(Collection<Long> ids) {
    return ids.isEmpty() ? List.of() : people.byIds(new TreeSet<>(ids));
  }
}
