package glenmoor.engine.reconcile;

import glenmoor.core.applications.Application;
import glenmoor.core.authorization.Actor;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.reconcile.Expectations;
import glenmoor.core.reconcile.ReconcileKind;
import glenmoor.core.reconcile.ReconcileRun;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.jobs.WorkProgress;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.reconcile.DriftMapper;
import glenmoor.store.reconcile.FoundMapper;
import jakarta.inject.Named;
import java.util.ArrayList;
import java.util.Map;

/**
 * One comparison after another: reads, finds what differs, and answers it as the definition says.
 */
@Named
final class Comparisons {
  private final FoundReading reading;
  private final FoundLines lines;
  private final DriftFinder finder;
  private final DriftResponses responses;
  private final FoundMapper mapper;
  private final DriftMapper drifts;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Clock clock;

  Comparisons(
      FoundReading reading,
      FoundLines lines,
      DriftFinder finder,
      DriftResponses responses,
      FoundMapper mapper,
      DriftMapper drifts,
      Catalogues catalogues,
      Transactions transactions,
      Ledger ledger,
      Clock clock) {
    this.reading = reading;
    this.lines = lines;
    this.finder = finder;
    this.responses = responses;
    this.mapper = mapper;
    this.drifts = drifts;
    this.catalogues = catalogues;
    this.transactions = transactions;
    this.ledger = ledger;
    this.clock = clock;
  }

  /**
   * Compares an application with what is expected of it, from the beginning, whatever an earlier
   * try of the same run had read.
   */
  Reconciled compare(
      ReconcileRun run, Application application, Actor actor, WorkProgress progress) {
    var catalogue = catalogues.current();
    var rule = ReconcileKind.of(run.application(), catalogue.defined());
    lines.forget(run.id());
    var expectations = new Expectations();
    var found = reading.read(run.id(), application, expectations, progress);
    lines.join(run.id(), run.application(), expectations);
    var missing = new ArrayList<Long>();
    expectations.missing(missing::add);
    var passedOver =
        finder.find(run.id(), application, rule, catalogue, run.startedAt(), missing, progress);
    transactions.run(() -> {
      drifts.gone(run.application(), run.id(), run.startedAt(), clock.instant());
      found
          .unknown()
          .forEach(each ->
              mapper.keepRight(
                  each.application(), each.kind(), each.technicalName(), each.holders(), run.id()));
      mapper.dropRights(run.application(), run.id());
    });
    var answered = responses.respond(run, rule, actor, progress);
    return ended(run, found, passedOver, answered, actor, progress);
  }

  private Reconciled ended(
      ReconcileRun run,
      FoundWriter found,
      int passedOver,
      DriftResponses.Answered answered,
      Actor actor,
      WorkProgress progress) {
    return transactions.run(() -> {
      var open = drifts.countOpen(run.application());
      mapper.end(
          run.done(clock.instant(), found.accounts(), found.memberships(), passedOver, open));
      var result =
          new Reconciled(
              run.id(),
              run.application(),
              found.accounts(),
              found.memberships(),
              passedOver,
              open,
              answered.repaired(),
              answered.adopted(),
              answered.held());
      ledger.append(
          new LedgerEntry(
              clock.instant(),
              actor.login(),
              "",
              "application:" + run.application(),
              "reconciled",
              Map.of(),
              Map.of(
                  "accounts", found.accounts(),
                  "drifts", open,
                  "repaired", answered.repaired(),
                  "adopted", answered.adopted(),
                  "passedOver", passedOver)));
      progress.keep(result);
      return result;
    });
  }
}
