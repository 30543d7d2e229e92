package glenmoor.engine.requests;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.people.Standing;
import glenmoor.core.people.WorkerNumber;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Ids;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.requests.AwayMapper;
import glenmoor.store.requests.AwayMapper.AwayRow;
import jakarta.inject.Named;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.Collectors;

/** Who acts for somebody between two days: what is asked of them is asked of their deputy then. */
@Named
public final class AwayPeriods {
  private static final int LONGEST_DAYS = 366;
  private static final int MOST = 20;

  /** An away period. */
  public record Away(
      long id,
      String worker,
      String name,
      String deputyWorker,
      String deputyName,
      LocalDate from,
      LocalDate until) {}

  private final AwayMapper away;
  private final PersonMapper people;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Ids ids;
  private final Clock clock;

  AwayPeriods(
      AwayMapper away,
      PersonMapper people,
      Catalogues catalogues,
      Transactions transactions,
      Ledger ledger,
      Ids ids,
      Clock clock) {
    this.away = away;
    this.people = people;
    this.catalogues = catalogues;
    this.transactions = transactions;
    this.ledger = ledger;
    this.ids = ids;
    this.clock = clock;
  }

  private LocalDate today() {
    return clock.instant().atZone(catalogues.zone()).toLocalDate();
  }

  /** Somebody's own; with the permission to decide in another's place, anybody's. */
  private PersonRow whose(String worker, Actor actor) {
    var own = Objects.requireNonNullElse(actor.worker(), "");
    var wanted = worker.isBlank() ? own : worker;
    if (wanted.isBlank()) {
      throw Refused.badInput("You are no person here who could be away; say a worker number.");
    }
    if (!WorkerNumber.key(wanted).equals(WorkerNumber.key(own))) {
      Authorization.need(actor, Permission.DECIDE_IN_PLACE);
    }
    var row = people.byWorker(wanted);
    if (row == null) {
      throw Refused.notThere("There is nobody with the worker number %s.".formatted(wanted));
    }
    return row;
  }

  /** Those that are not over. */
  public List<Away> list(String worker, Actor actor) {
    return shown(away.ahead(whose(worker, actor).id(), today()));
  }

  private List<Away> shown(List<AwayRow> rows) {
    if (rows.isEmpty()) {
      return List.of();
    }
    var names =
        people
            .byIds(
                rows.stream()
                    .flatMap(row -> List.of(row.personId(), row.deputyId()).stream())
                    .distinct()
                    .toList())
            .stream()
            .collect(Collectors.toMap(PersonRow::id, row -> row));
    return rows.stream()
        .map(row -> {
          var person = Objects.requireNonNull(names.get(row.personId()));
          var deputy = Objects.requireNonNull(names.get(row.deputyId()));
          return new Away(
              row.id(),
              person.workerNumber(),
              person.name(),
              deputy.workerNumber(),
              deputy.name(),
              row.fromDay(),
              row.untilDay());
        })
        .toList();
  }

  /**
   * Has somebody act for somebody from a day to a day, both included.
   *
   * @throws Refused if the days are in no order, or the deputy is not here or the same person
   */
  public Away add(String worker, String deputy, LocalDate from, LocalDate until, Actor actor) {
    var person = whose(worker, actor);
    var today = today();
    if (until.isBefore(from) || until.isBefore(today)) {
      throw Refused.badInput(
          "Somebody is away to a day that is neither past nor before the first: from %s to %s is not."
              .formatted(from, until));
    }
    if (from.plusDays(LONGEST_DAYS).isBefore(until)) {
      throw Refused.badInput("An away period has at most %d days.".formatted(LONGEST_DAYS));
    }
    var row = people.byWorker(deputy);
    if (row == null
        || row.id().equals(person.id())
        || Standing.of(FactsJson.person(row, catalogues.current().facts()), today)
            != Standing.ACTIVE) {
      throw Refused.badInput(
          "The deputy has to be somebody else who works here now; “%s” is not.".formatted(deputy));
    }
    return transactions.run(() -> {
      if (away.ahead(person.id(), today).size() >= MOST) {
        throw Refused.badInput("There are %d away periods ahead already.".formatted(MOST));
      }
      var now = clock.instant();
      var period =
          new AwayRow(ids.next(), person.id(), row.id(), from, until, actor.login(), now, null);
      away.insert(period);
      note(
          person,
          actor,
          "away-set",
          Map.of("deputy", row.workerNumber(), "from", from.toString(), "until", until.toString()));
      return shown(List.of(period)).getFirst();
    });
  }

  /** Somebody is back, or does not go. */
  public void end(long id, Actor actor) {
    transactions.run(() -> {
      var period = away.byId(id);
      var row = period == null ? null : people.byIds(List.of(period.personId())).getFirst();
      var own = WorkerNumber.keyOrNone(actor.worker());
      if (row == null
          || !WorkerNumber.key(row.workerNumber()).equals(own)
              && !actor.may(Permission.DECIDE_IN_PLACE)) {
        throw Refused.notThere("There is no away period %d of yours.".formatted(id));
      }
      if (away.end(id, clock.instant()) > 0) {
        note(row, actor, "away-ended", Map.of());
      }
    });
  }

  private void note(PersonRow person, Actor actor, String what, Map<String, Object> after) {
    ledger.append(
        new LedgerEntry(
            clock.instant(),
            actor.login(),
            "",
            "person:" + person.workerNumber(),
            what,
            Map.of(),
            after));
  }
}
