package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.authorization.Duty;
import glenmoor.core.authorization.Scope;
import glenmoor.core.people.Facts;
import glenmoor.core.people.PersonId;
import glenmoor.core.people.Standing;
import glenmoor.core.people.Team;
import glenmoor.core.people.TeamKind;
import glenmoor.core.people.WorkerNumber;
import glenmoor.core.requests.Deciders;
import glenmoor.core.requests.Organisation;
import glenmoor.core.requests.Organisation.Member;
import glenmoor.core.requests.StageRule;
import glenmoor.store.authorization.DutyMapper;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.requests.AwayMapper;
import glenmoor.store.requests.AwayMapper.AwayRow;
import jakarta.inject.Named;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/** Loads who is who around a line: who is asked as what, and who stands in for whom. */
@Named
final class Organisations {
  /** A fact that names who answers for a partner; the manager does where nobody has it. */
  private static final String SPONSOR = "sponsor";

  /** How far up a chain of people who are not here it is looked for somebody who is. */
  private static final int MOST_LEVELS = 12;

  private final PersonMapper people;
  private final DutyMapper duties;
  private final AwayMapper away;

  Organisations(PersonMapper people, DutyMapper duties, AwayMapper away) {
    this.people = people;
    this.duties = duties;
    this.away = away;
  }

  /**
   * What a line is about, as far as it matters who decides.
   *
   * @param asker null where that is no person
   * @param gives all that it gives
   * @param conflicts keys of the conflict rules that it would break
   * @param others people who may be asked besides, such as those it was passed on to
   */
  record About(
      PersonRow subject,
      @Nullable Long asker,
      String portfolio,
      List<Entitlement> gives,
      Collection<String> conflicts,
      Collection<Long> others) {}

  /** What is known of people, each read once. */
  private static final class Known {
    private final Map<Long, PersonRow> rows = new LinkedHashMap<>();
    private final Map<Long, Facts> facts = new HashMap<>();
    private final Map<String, Long> byWorker = new HashMap<>();
    private final Set<String> looked = new HashSet<>();
  }

  /** Who is who for all stages of a route. */
  Organisation around(
      About about, Collection<StageRule> rules, Catalogue catalogue, LocalDate today) {
    var known = new Known();
    add(known, List.of(about.subject()), catalogue);
    var asked = new ArrayList<Deciders>(List.of(new Deciders.Administrators()));
    rules.forEach(rule ->
        Stream.of(rule.ask(), rule.otherwise(), rule.standby(), rule.onTo())
            .forEach(asked::addAll));
    managers(known, catalogue);
    managers(known, catalogue);
    var holders = new HashMap<Deciders, List<PersonId>>();
    for (var deciders : asked) {
      if (!holders.containsKey(deciders)) {
        holders.put(deciders, holders(deciders, about, known, catalogue, today));
      }
    }
    byId(known, about.others(), catalogue);
    return new Organisation(
        new PersonId(about.subject().id()),
        about.asker() == null ? null : new PersonId(about.asker()),
        holders,
        members(known, catalogue, today));
  }

  private static void add(Known known, List<PersonRow> rows, Catalogue catalogue) {
    for (var row : rows) {
      if (known.rows.putIfAbsent(row.id(), row) == null) {
        known.facts.put(row.id(), FactsJson.read(row.facts(), catalogue.facts()));
        known.byWorker.put(WorkerNumber.key(row.workerNumber()), row.id());
      }
    }
  }

  private void byId(Known known, Collection<Long> ids, Catalogue catalogue) {
    var missing = ids.stream().filter(id -> !known.rows.containsKey(id)).distinct().toList();
    if (!missing.isEmpty()) {
      add(known, people.byIds(missing), catalogue);
    }
  }

  private void byWorkers(Known known, Collection<String> workers, Catalogue catalogue) {
    var missing =
        workers.stream()
            .map(WorkerNumber::key)
            .filter(key -> !key.isEmpty() && !known.byWorker.containsKey(key))
            .filter(known.looked::add)
            .distinct()
            .toList();
    if (!missing.isEmpty()) {
      add(known, people.byWorkers(missing), catalogue);
    }
  }

  /** Loads the managers of everybody who is known so far. */
  private void managers(Known known, Catalogue catalogue) {
    byWorkers(
        known,
        known.facts.values().stream()
            .flatMap(facts -> Stream.of(facts.text(Facts.MANAGER), facts.text(SPONSOR)))
            .toList(),
        catalogue);
  }

  private List<PersonId> holders(
      Deciders deciders, About about, Known known, Catalogue catalogue, LocalDate today) {
    return switch (deciders) {
      case Deciders.LineManager m -> named(known, about.subject().id(), Facts.MANAGER);
      case Deciders.ManagersManager m ->
          named(known, about.subject().id(), Facts.MANAGER).stream()
              .flatMap(each -> named(known, each.value(), Facts.MANAGER).stream())
              .toList();
      case Deciders.Sponsor s -> {
        var sponsor = named(known, about.subject().id(), SPONSOR);
        yield sponsor.isEmpty() ? named(known, about.subject().id(), Facts.MANAGER) : sponsor;
      }
      case Deciders.Stewards s ->
          about.portfolio().isEmpty()
              ? List.of()
              : duty(known, Duty.STEWARD, Scope.portfolio(about.portfolio()), catalogue, today);
      case Deciders.ApplicationOwners o ->
          about.gives().stream()
              .map(Entitlement::application)
              .distinct()
              .flatMap(key ->
                  duty(known, Duty.APPLICATION_OWNER, Scope.application(key), catalogue, today)
                      .stream())
              .distinct()
              .toList();
      case Deciders.EntitlementOwners e ->
          about.gives().stream()
              .flatMap(each -> Deciders.of(each.owner()).stream())
              .distinct()
              .flatMap(each -> holders(each, about, known, catalogue, today).stream())
              .distinct()
              .toList();
      case Deciders.ConflictOwners c ->
          about.conflicts().stream()
              .flatMap(key ->
                  duty(known, Duty.CONFLICT_OWNER, Scope.conflictRule(key), catalogue, today)
                      .stream())
              .distinct()
              .toList();
      case Deciders.Administrators a ->
          duty(known, Duty.ADMINISTRATOR, Scope.EVERYTHING, catalogue, today);
      case Deciders.OfTeam team ->
          workers(
              known,
              Optional.ofNullable(catalogue.defined().all(TeamKind.class).get(team.key()))
                  .map(Team::members)
                  .orElse(List.of()),
              catalogue);
      case Deciders.OnePerson one -> workers(known, List.of(one.worker()), catalogue);
    };
  }

  private static List<PersonId> named(Known known, long person, String fact) {
    var facts = known.facts.get(person);
    var id = facts == null ? null : known.byWorker.get(WorkerNumber.key(facts.text(fact)));
    return id == null ? List.of() : List.of(new PersonId(id));
  }

  private List<PersonId> duty(
      Known known, Duty duty, Scope scope, Catalogue catalogue, LocalDate today) {
    var ids = duties.holders(duty.word(), scope.kind().word(), scope.key(), today);
    byId(known, ids, catalogue);
    return ids.stream().map(PersonId::new).toList();
  }

  private List<PersonId> workers(Known known, List<String> workers, Catalogue catalogue) {
    byWorkers(known, workers, catalogue);
    return workers.stream()
        .map(WorkerNumber::key)
        .flatMap(key -> Stream.ofNullable(known.byWorker.get(key)))
        .map(PersonId::new)
        .toList();
  }

  /** Everybody there is to know of, with those who could stand in for them. */
  private Map<PersonId, Member> members(Known known, Catalogue catalogue, LocalDate today) {
    var deputies = new HashMap<Long, AwayRow>();
    var looked = new TreeSet<Long>();
    for (var level = 0; level < MOST_LEVELS; level++) {
      var fresh = known.rows.keySet().stream().filter(looked::add).toList();
      if (fresh.isEmpty()) {
        break;
      }
      var covering =
          away.covering(fresh, today).stream()
              .collect(Collectors.toMap(AwayRow::personId, Function.identity(), (one, old) -> one));
      deputies.putAll(covering);
      byId(known, covering.values().stream().map(AwayRow::deputyId).toList(), catalogue);
      managers(known, catalogue);
    }
    var members = new HashMap<PersonId, Member>();
    known.rows.forEach((id, row) -> {
      var standing = Standing.of(FactsJson.person(row, catalogue.facts()), today);
      var period = deputies.get(id);
      var manager = named(known, id, Facts.MANAGER);
      members.put(
          new PersonId(id),
          new Member(
              !standing.isGone(),
              manager.isEmpty() ? null : manager.getFirst(),
              period != null || standing == Standing.ON_LEAVE || standing == Standing.EXPECTED,
              period == null ? null : new PersonId(period.deputyId())));
    });
    return members;
  }
}
