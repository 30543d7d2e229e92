package glenmoor.engine.reconcile;

import glenmoor.connect.applications.Connector;
import glenmoor.core.access.Catalogue;
import glenmoor.core.conditions.Unanswerable;
import glenmoor.core.people.WorkerNumber;
import glenmoor.core.provisioning.Outcome;
import glenmoor.core.provisioning.PersonSnapshot;
import glenmoor.core.reconcile.DriftKind;
import glenmoor.core.reconcile.ReconcileRule;
import glenmoor.core.reconcile.ReconcileRule.Join;
import glenmoor.core.reconcile.ReconcileRun;
import glenmoor.core.reconcile.Response;
import glenmoor.engine.Refused;
import glenmoor.engine.applications.Connections;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.jobs.WorkProgress;
import glenmoor.engine.provisioning.PersonSnapshots;
import glenmoor.engine.reconcile.DriftDecisions.Decider;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Bulk;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.reconcile.DriftMapper;
import glenmoor.store.reconcile.DriftMapper.DriftRow;
import glenmoor.store.reconcile.JoinMapper;
import jakarta.inject.Named;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/**
 * Accounts that are nobody's: whose they may be, and taking them for that person's.
 *
 * <p>An account is a person's where it carries their worker number, or where the join of the
 * application's definition says the same of exactly one person and exactly one such account.
 */
@Named
final class StrayAccounts {
  private static final int AT_ONCE = 200;
  private static final int PEOPLE_AT_ONCE = 1_000;
  private static final int LONGEST_VALUE = 400;

  private final DriftMapper drifts;
  private final JoinMapper joins;
  private final DriftDecisions decisions;
  private final Connections connections;
  private final Catalogues catalogues;
  private final PersonMapper people;
  private final PersonSnapshots snapshots;
  private final Transactions transactions;
  private final Bulk bulk;
  private final Clock clock;

  StrayAccounts(
      DriftMapper drifts,
      JoinMapper joins,
      DriftDecisions decisions,
      Connections connections,
      Catalogues catalogues,
      PersonMapper people,
      PersonSnapshots snapshots,
      Transactions transactions,
      Bulk bulk,
      Clock clock) {
    this.drifts = drifts;
    this.joins = joins;
    this.decisions = decisions;
    this.connections = connections;
    this.catalogues = catalogues;
    this.people = people;
    this.snapshots = snapshots;
    this.transactions = transactions;
    this.bulk = bulk;
    this.clock = clock;
  }

  /**
   * Takes all accounts whose person can be told for theirs, where the definition says so. Those
   * that would be shut at once stay for somebody to decide.
   */
  int adoptAll(ReconcileRun run, ReconcileRule rule, Decider by, WorkProgress progress) {
    if (rule.response(DriftKind.STRAY_ACCOUNT) != Response.ADOPT) {
      return 0;
    }
    rule.join().ifPresent(join -> stage(run, join, progress));
    var adopted = 0;
    var after = 0L;
    while (true) {
      var from = after;
      var page =
          transactions.run(() ->
              drifts.toRespond(run.application(), Response.ADOPT.word(), from, AT_ONCE).stream()
                  .filter(row -> row.kind().equals(DriftKind.STRAY_ACCOUNT.word()))
                  .toList());
      if (page.isEmpty()) {
        break;
      }
      after = page.getLast().id();
      var owners = owners(run, rule, page);
      for (var row : page) {
        var owner = owners.get(row.id());
        if (owner != null && adopted(row, owner, by)) {
          adopted++;
        }
      }
      progress.at(0, 0, "%,d accounts adopted".formatted(adopted));
    }
    transactions.run(() -> joins.drop(run.id()));
    return adopted;
  }

  /**
   * One that cannot be adopted stays open, with what the application or the person's account says.
   */
  private boolean adopted(DriftRow row, long owner, Decider by) {
    try {
      var catalogue = catalogues.current();
      var person = snapshots.of(people.byIds(List.of(owner)), catalogue);
      if (person.isEmpty()
          || !decisions.staysOpen(row, person.getFirst(), catalogue, clock.instant())) {
        return false;
      }
      attach(row, person.getFirst(), by);
      return true;
    } catch (Refused refused) {
      transactions.run(
          () -> drifts.note(row.id(), "not adopted by itself: " + refused.getMessage()));
      return false;
    }
  }

  /**
   * Takes an account for a person's: first the application is told whose it is, so that it is found
   * again by that from then on.
   *
   * @throws Refused if the application or the person's account does not allow it
   */
  void attach(DriftRow row, PersonSnapshot owner, Decider by) {
    var worker = owner.person().worker().value();
    transactions.run(() -> decisions.mayAttach(row, owner, catalogues.current(), clock.instant()));
    through(row.application(), connector -> connector.claim(row.nativeId(), worker));
    transactions.run(() -> {
      var locked = drifts.lock(List.of(row.id()));
      if (locked.isEmpty() || !locked.getFirst().state().equals("open")) {
        throw new Refused(Refused.Reason.NOT_NOW, "Somebody decided on this meanwhile.");
      }
      decisions.attach(locked.getFirst(), owner, by, catalogues.current(), clock.instant());
    });
  }

  /**
   * Deletes an account that carries no worker number.
   *
   * @throws Refused if the application does not, or if it carries one
   */
  void remove(String application, String nativeId) {
    through(application, connector -> connector.deleteStray(nativeId));
  }

  private void through(String key, Function<Connector, Outcome> work) {
    var application = catalogues.current().application(key);
    var outcome = connections.through(application, work);
    if (outcome instanceof Outcome.Gone gone) {
      throw new Refused(Refused.Reason.NOT_NOW, "The account is gone: " + gone.note());
    }
    if (!(outcome instanceof Outcome.Confirmed)) {
      throw new Refused(
          Refused.Reason.NOT_NOW, "%s: %s".formatted(application.name(), outcome.sentence()));
    }
  }

  /** Whose these accounts are, by the drift's identity. */
  private Map<Long, Long> owners(ReconcileRun run, ReconcileRule rule, List<DriftRow> page) {
    var owners = new HashMap<Long, Long>();
    var ids = page.stream().map(DriftRow::id).toList();
    if (rule.join().isPresent()) {
      joins.byValue(run.id(), ids).forEach(each -> owners.put(each.drift(), each.person()));
    }
    joins.byWorker(ids).forEach(each -> owners.put(each.drift(), each.person()));
    return owners;
  }

  /** Notes of everybody, and of every stray account, what they are joined by. */
  private void stage(ReconcileRun run, Join join, WorkProgress progress) {
    transactions.run(() -> joins.drop(run.id()));
    var catalogue = catalogues.current();
    var after = 0L;
    var staged = 0;
    while (true) {
      var ids = people.idsAfter(after, PEOPLE_AT_ONCE);
      if (ids.isEmpty()) {
        break;
      }
      after = ids.getLast();
      var rows = new ArrayList<JoinMapper.Line>();
      for (var snapshot : snapshots.shown(people.byIds(ids), catalogue)) {
        value(snapshot, join, catalogue)
            .ifPresent(value ->
                rows.add(
                    new JoinMapper.Line(run.id(), value, snapshot.person().id().value(), null)));
      }
      transactions.run(() -> bulk.insert("found_join", rows));
      staged += ids.size();
      progress.at(0, 0, "%,d people looked at".formatted(staged));
    }
    transactions.run(() ->
        joins.stageStrays(
            run.id(),
            run.application(),
            join.attribute().equals(Join.NAME) ? "$.name" : "$.\"" + join.attribute() + "\""));
  }

  private static Optional<String> value(PersonSnapshot snapshot, Join join, Catalogue catalogue) {
    var names = new HashMap<String, String>();
    snapshot.accounts().forEach(account -> names.put(account.application(), account.name()));
    try {
      return join.value()
          .value(catalogue.expressions().view(snapshot.person()), names, "")
          .map(value -> value.strip().toLowerCase(Locale.ROOT))
          .filter(value -> !value.isEmpty() && value.length() <= LONGEST_VALUE);
    } catch (Unanswerable nothing) {
      return Optional.empty();
    }
  }

  /** A person by their worker number, with what they have. */
  PersonSnapshot person(String worker) {
    var rows = people.byWorkers(List.of(WorkerNumber.key(worker)));
    if (rows.isEmpty()) {
      throw Refused.badInput("There is nobody with the worker number " + worker + ".");
    }
    return snapshots.of(rows, catalogues.current()).getFirst();
  }
}
