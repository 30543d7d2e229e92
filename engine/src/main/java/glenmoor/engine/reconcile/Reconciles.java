package glenmoor.engine.reconcile;

import glenmoor.core.agenda.Schedule;
import glenmoor.core.applications.Ability;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;
import glenmoor.core.reconcile.FoundRight;
import glenmoor.core.reconcile.ReconcileKind;
import glenmoor.core.reconcile.ReconcileRun;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.applications.KnownApplications;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.jobs.Jobs;
import glenmoor.engine.jobs.LongWork;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.jobs.Schedules;
import glenmoor.engine.jobs.WorkProgress;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Ids;
import glenmoor.store.reconcile.FoundMapper;
import jakarta.inject.Named;
import java.time.Duration;
import java.util.List;
import java.util.Objects;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** Compares applications with what is expected of them, as long work. */
@Named
public final class Reconciles implements RecurringJob.Owner {
  /** Which application is compared. */
  public record Reconcile(String application) {}

  private final FoundMapper mapper;
  private final FoundLines lines;
  private final Comparisons comparisons;
  private final KnownApplications applications;
  private final Catalogues catalogues;
  private final Jobs jobs;
  private final Schedules schedules;
  private final Transactions transactions;
  private final Ids ids;
  private final Clock clock;
  private final Reconciling reconciling = new Reconciling();

  Reconciles(
      FoundMapper mapper,
      FoundLines lines,
      Comparisons comparisons,
      KnownApplications applications,
      Catalogues catalogues,
      Jobs jobs,
      Schedules schedules,
      Transactions transactions,
      Ids ids,
      Clock clock) {
    this.mapper = mapper;
    this.lines = lines;
    this.comparisons = comparisons;
    this.applications = applications;
    this.catalogues = catalogues;
    this.jobs = jobs;
    this.schedules = schedules;
    this.transactions = transactions;
    this.ids = ids;
    this.clock = clock;
    jobs.doneBy(reconciling);
  }

  /**
   * Begins to compare an application.
   *
   * @return the identity of the work; its result is {@link Reconciled}
   * @throws Refused if there is no such application, or its connector cannot list accounts
   */
  public long begin(String key, Actor actor) {
    var application = applications.of(key, Permission.RECONCILE, actor);
    if (!application.can(Ability.LIST_ACCOUNTS)) {
      throw Refused.badInput(
          "The connector of %s cannot %s, so there is nothing to compare."
              .formatted(application.name(), Ability.LIST_ACCOUNTS.sentence()));
    }
    return jobs.begin(reconciling, "reconciling " + application.name(), new Reconcile(key), actor);
  }

  public List<ReconcileRun> list(
      @Nullable String application, long before, int limit, Actor actor) {
    var reach = Authorization.applications(actor, Permission.SEE_APPLICATIONS);
    return mapper.list(application, reach.keys(), before, limit);
  }

  public ReconcileRun show(long id, Actor actor) {
    var reach = Authorization.applications(actor, Permission.SEE_APPLICATIONS);
    var run = mapper.byId(id);
    if (run == null || !reach.covers(run.application())) {
      throw Refused.notThere(
          "There is no reconcile " + id + "; glenmoor reconciles list shows those there are.");
    }
    return run;
  }

  /** Rights that an application was last found to have and no definition names. */
  public List<FoundRight> unknownRights(String key, Actor actor) {
    applications.of(key, Permission.SEE_APPLICATIONS, actor);
    return mapper.rights(key);
  }

  @Override
  public List<RecurringJob> recurring() {
    return List.of(
        new RecurringJob(
            "reconciles",
            "begins the comparisons that are due",
            Duration.ofMinutes(1),
            this::scheduled));
  }

  /**
   * Begins what is due by the applications' definitions, and forgets lists that newer ones
   * replaced.
   */
  void scheduled() {
    mapper.replaced().forEach(lines::forget);
    var wanted = new TreeMap<String, Schedule>();
    catalogues
        .current()
        .defined()
        .all(ReconcileKind.class)
        .forEach((application, rule) -> rule.at().ifPresent(at -> wanted.put(application, at)));
    schedules.due("reconcile", wanted, application -> begin(application, Actor.SERVICE));
  }

  private final class Reconciling implements LongWork<Reconcile> {
    @Override
    public String kind() {
      return "reconcile";
    }

    @Override
    public Class<Reconcile> input() {
      return Reconcile.class;
    }

    @Override
    public List<Class<?>> results() {
      return List.of(Reconciled.class);
    }

    @Override
    public Object run(Reconcile input, Actor actor, WorkProgress progress) {
      Authorization.need(actor, Permission.RECONCILE, Scope.application(input.application()));
      var run = begun(input, actor, progress.work());
      if (mapper.othersRun(run.application(), run.id())) {
        throw new NotYet("waits for the comparison that goes on");
      }
      var application = applications.of(run.application(), Permission.RECONCILE, actor);
      return comparisons.compare(run, application, actor, progress);
    }

    @Override
    public void ended(Reconcile input, long work, boolean done, String sentence) {
      var run = mapper.ofWork(work);
      if (run != null && !done) {
        mapper.end(run.failed(clock.instant(), sentence));
      }
    }

    @Override
    public String whenCancelled() {
      return "It was cancelled; what had been found differs stays as it was noted.";
    }
  }

  private ReconcileRun begun(Reconcile input, Actor actor, long work) {
    return transactions.run(() -> {
      var known = mapper.ofWork(work);
      if (known != null) {
        mapper.again(known.id(), clock.instant());
      } else {
        mapper.begin(
            new ReconcileRun(
                ids.next(),
                input.application(),
                "running",
                actor.login(),
                work,
                clock.instant(),
                null,
                0,
                0,
                0,
                0,
                ""));
      }
      return Objects.requireNonNull(mapper.ofWork(work));
    });
  }
}
