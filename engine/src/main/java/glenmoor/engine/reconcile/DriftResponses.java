package glenmoor.engine.reconcile;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;
import glenmoor.core.brakes.BrakeKind;
import glenmoor.core.brakes.Brakes.Measure;
import glenmoor.core.brakes.Brakes.Measured;
import glenmoor.core.reconcile.ReconcileRule;
import glenmoor.core.reconcile.ReconcileRun;
import glenmoor.core.reconcile.Response;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.brakes.HeldChanges;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.jobs.WorkProgress;
import glenmoor.engine.provisioning.DueWork;
import glenmoor.engine.provisioning.OperationWorkers;
import glenmoor.engine.reconcile.DriftDecisions.Decider;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.reconcile.DriftMapper;
import glenmoor.store.reconcile.DriftMapper.DriftRow;
import glenmoor.store.reconcile.FoundMapper;
import jakarta.inject.Named;
import java.io.InputStream;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** Does at once what an application's definition says about drift, under the brake. */
@Named
final class DriftResponses implements HeldChanges.Releasing {
  private static final String KIND = "reconcile";
  private static final int AT_ONCE = 200;

  /** How many differences were answered; {@code held} is the change that a brake holds. */
  record Answered(int repaired, int adopted, @Nullable Long held) {}

  /**
   * What would be repaired, by kind of drift.
   *
   * @param losing people who would lose something they have
   * @param repaired people of whom an account would be changed
   */
  public record RepairForecast(
      String application, Map<String, Integer> byKind, int losing, int repaired) {}

  /** What carrying held repairs out came to. */
  public record Repaired(String application, int repaired) {}

  private final DriftMapper drifts;
  private final FoundMapper found;
  private final DriftDecisions decisions;
  private final StrayAccounts strays;
  private final HeldChanges held;
  private final Catalogues catalogues;
  private final OperationWorkers workers;
  private final DueWork due;
  private final Transactions transactions;
  private final Clock clock;

  DriftResponses(
      DriftMapper drifts,
      FoundMapper found,
      DriftDecisions decisions,
      StrayAccounts strays,
      HeldChanges held,
      Catalogues catalogues,
      OperationWorkers workers,
      DueWork due,
      Transactions transactions,
      Clock clock) {
    this.drifts = drifts;
    this.found = found;
    this.decisions = decisions;
    this.strays = strays;
    this.held = held;
    this.catalogues = catalogues;
    this.workers = workers;
    this.due = due;
    this.transactions = transactions;
    this.clock = clock;
    held.carriedOutBy(KIND, this);
  }

  /** Answers what a comparison found. */
  Answered respond(ReconcileRun run, ReconcileRule rule, Actor actor, WorkProgress progress) {
    var by = new Decider(actor.login(), "as the definition of the reconcile says");
    var adopted =
        adoptAll(run.application(), by, progress) + strays.adoptAll(run, rule, by, progress);
    var measured = measured(run.application());
    var over = BrakeKind.on("reconciles", catalogues.current().defined()).hold(measured, Map.of());
    if (!over.isEmpty()) {
      return new Answered(0, adopted, hold(run, measured, over, actor));
    }
    var repaired = repairAll(run.application(), by, progress);
    act(repaired + adopted);
    return new Answered(repaired, adopted, null);
  }

  private void act(int answered) {
    if (answered > 0) {
      due.sweep();
      workers.wake();
    }
  }

  private Measured measured(String application) {
    var repaired = drifts.countRepairing(application);
    if (repaired == 0) {
      return new Measured(Map.of(), 0);
    }
    return new Measured(
        Map.of(Measure.LOSING, drifts.countTaking(application), Measure.REPAIRED, repaired),
        found.countKnown(application));
  }

  private long hold(ReconcileRun run, Measured measured, List<String> over, Actor actor) {
    var what = "repairs in " + catalogues.current().application(run.application()).name();
    var waiting = held.waiting(KIND, what);
    if (waiting.isPresent()) {
      return waiting.get();
    }
    var byKind = new TreeMap<String, Integer>();
    drifts.counts(List.of(run.application())).stream()
        .filter(each -> each.response().equals(Response.REPAIR.word()))
        .forEach(each -> byKind.put(each.kind(), each.drifts()));
    return transactions.run(() ->
        held.hold(
            new HeldChanges.Holding(
                KIND,
                what,
                String.join("; ", over),
                measured,
                new RepairForecast(
                    run.application(),
                    byKind,
                    measured.count(Measure.LOSING),
                    measured.count(Measure.REPAIRED)),
                Map.of("application", run.application(), "reconcile", run.id())),
            InputStream.nullInputStream(),
            actor));
  }

  private int repairAll(String application, Decider by, WorkProgress progress) {
    return eachPage(
        application,
        Response.REPAIR,
        progress,
        rows -> decisions.repair(rows, by, clock.instant()));
  }

  private int adoptAll(String application, Decider by, WorkProgress progress) {
    var catalogue = catalogues.current();
    return eachPage(
        application,
        Response.ADOPT,
        progress,
        rows -> decisions.adopt(rows, by, catalogue, clock.instant()));
  }

  private interface Page {
    List<DriftRow> decide(List<DriftRow> rows);
  }

  private int eachPage(String application, Response response, WorkProgress progress, Page page) {
    var decided = 0;
    var after = 0L;
    while (true) {
      var from = after;
      var last = new long[1];
      decided +=
          transactions.run(() -> {
            var rows = drifts.toRespond(application, response.word(), from, AT_ONCE);
            last[0] = rows.isEmpty() ? 0 : rows.getLast().id();
            return rows.isEmpty() ? 0 : page.decide(rows).size();
          });
      if (last[0] == 0) {
        return decided;
      }
      after = last[0];
      progress.at(0, 0, "%,d differences answered".formatted(decided));
    }
  }

  @Override
  public Permission needs() {
    return Permission.DECIDE_DRIFT;
  }

  @Override
  public void check(Map<String, Object> details) {
    var application = String.valueOf(details.get("application"));
    if (drifts.countRepairing(application) == 0) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "Nothing is left to repair there: a later reconcile shows it as it should be. Drop this change.");
    }
  }

  @Override
  public Object release(HeldChanges.Released released, Actor actor, WorkProgress progress) {
    var application = String.valueOf(released.details().get("application"));
    Authorization.need(actor, Permission.DECIDE_DRIFT, Scope.application(application));
    var over =
        BrakeKind.on("reconciles", catalogues.current().defined())
            .hold(measured(application), released.allowed());
    if (!over.isEmpty()) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "It comes to more than when it was held: %s. Reconcile the application again."
              .formatted(String.join("; ", over)));
    }
    var repaired =
        repairAll(
            application, new Decider(actor.login(), "released by " + actor.login()), progress);
    act(repaired);
    return new Repaired(application, repaired);
  }

  @Override
  public Class<?> forecast() {
    return RepairForecast.class;
  }

  @Override
  public List<Class<?>> results() {
    return List.of(Repaired.class);
  }
}
