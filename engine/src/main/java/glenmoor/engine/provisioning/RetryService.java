package glenmoor.engine.provisioning;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Reach;
import glenmoor.core.forecast.Forecast;
import glenmoor.core.provisioning.OperationState.Transition;
import glenmoor.core.provisioning.OperationView;
import glenmoor.core.provisioning.PersonSnapshot;
import glenmoor.core.provisioning.RetrySearch;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.provisioning.OperationMapper.Retriable;
import jakarta.inject.Named;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.BiConsumer;
import java.util.stream.Collectors;

/** Trying operations again: one, or all that a filter leaves, with a forecast before. */
@Named
public final class RetryService {
  private static final int AT_ONCE = 500;

  /** How many operations are tried again, and what planning their people anew brings about. */
  public record Retried(
      int operations, Map<String, Integer> byApplication, Forecast.Sum forecast) {}

  private final OperationService operations;
  private final OperationMapper outbox;
  private final PersonMapper people;
  private final OperationWorkers workers;
  private final Retrying retrying;
  private final PersonSnapshots snapshots;
  private final Planning planning;
  private final Catalogues catalogues;
  private final DueWork due;
  private final Transactions transactions;
  private final Clock clock;

  public RetryService(
      OperationService operations,
      OperationMapper outbox,
      PersonMapper people,
      AccountMapper accounts,
      OperationWorkers workers,
      PersonSnapshots snapshots,
      Planning planning,
      Catalogues catalogues,
      DueWork due,
      Transactions transactions,
      Ledger ledger,
      Clock clock) {
    retrying = new Retrying(outbox, accounts, people, snapshots, ledger);
    this.operations = operations;
    this.outbox = outbox;
    this.people = people;
    this.workers = workers;
    this.snapshots = snapshots;
    this.planning = planning;
    this.catalogues = catalogues;
    this.due = due;
    this.transactions = transactions;
    this.clock = clock;
  }

  /** Plans the person of a fault, or of what waits, anew; the old command is never sent again. */
  public OperationView retry(long id, Actor actor) {
    Authorization.applications(actor, Permission.DECIDE_OPERATIONS);
    transactions.run(() -> {
      var row = operations.locked(id, actor);
      OperationStates.moved(
          OperationStates.of(row), new Transition.AskedAgain(clock.instant(), actor.login()));
      if (row.kind().equals("set-password")) {
        throw new Refused(
            Refused.Reason.NOT_NOW,
            "A passcode that could not be set is not sent again: issue a new one.");
      }
      var again = retrying.prepare(List.of(id), List.of(row.accountId()));
      if (again.operations().isEmpty()) {
        throw new Refused(
            Refused.Reason.NOT_NOW, "It is being carried out at this moment; look again shortly.");
      }
      retrying.keep(again, actor, clock.instant());
    });
    due.sweep();
    workers.wake();
    return operations.show(id, actor);
  }

  /**
   * Tries all faults again, and all that waits after a try.
   *
   * @param search {@code after} and {@code limit} are not looked at: all means all
   */
  public Retried retryAll(RetrySearch search, Actor actor) {
    var reach = Authorization.applications(actor, Permission.DECIDE_OPERATIONS);
    operations.applicationExists(search.application(), reach);
    var retried =
        eachPage(search, reach, (again, forecast) -> retrying.keep(again, actor, clock.instant()));
    due.sweep();
    workers.wake();
    return retried;
  }

  /** What trying all of them again would come to; nothing is done. */
  public Retried forecastRetry(RetrySearch search, Actor actor) {
    var reach = Authorization.applications(actor, Permission.DECIDE_OPERATIONS);
    operations.applicationExists(search.application(), reach);
    var catalogue = catalogues.current();
    var planner = planning.forecaster(catalogue);
    return eachPage(
        search,
        reach,
        (again, forecast) -> {
          var replanned =
              snapshots.of(people.byIds(again.people()), catalogue).stream()
                  .map(snapshot -> replanned(snapshot, again))
                  .toList();
          planner.apply(replanned).forEach(plan -> forecast.count(plan, ""));
        });
  }

  private static PersonSnapshot replanned(PersonSnapshot snapshot, Retrying.Again again) {
    return snapshot.withAccounts(
        snapshot.accounts().stream()
            .map(each -> again.accounts().getOrDefault(each.id(), each))
            .toList());
  }

  private Retried eachPage(
      RetrySearch search, Reach reach, BiConsumer<Retrying.Again, Forecast> work) {
    var forecast = new Forecast(catalogues.current());
    var counts = new TreeMap<String, Integer>();
    var after = 0L;
    while (true) {
      var page =
          outbox.retriable(
              new RetrySearch(search.application(), search.kind(), search.reason(), after, AT_ONCE),
              reach.keys());
      if (page.isEmpty()) {
        return new Retried(
            counts.values().stream().mapToInt(Integer::intValue).sum(), counts, forecast.sum());
      }
      after = page.getLast().id();
      var chosen = page.stream().map(Retriable::id).toList();
      var lanes = page.stream().map(Retriable::accountId).collect(Collectors.toSet());
      transactions.run(() -> {
        var again = retrying.prepare(chosen, lanes);
        again.operations().forEach(row -> counts.merge(row.application(), 1, Integer::sum));
        work.accept(again, forecast);
      });
    }
  }
}
