package glenmoor.engine.reconcile;

import glenmoor.core.agenda.Schedule;
import glenmoor.core.applications.Ability;
import glenmoor.core.applications.Application;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.reconcile.Expectations;
import glenmoor.core.reconcile.FoundRight;
import glenmoor.core.reconcile.ReconcileKind;
import glenmoor.core.reconcile.ReconcileRun;
import glenmoor.core.usage.Used;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.applications.Connections;
import glenmoor.engine.applications.KnownApplications;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.jobs.Jobs;
import glenmoor.engine.jobs.LongWork;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.jobs.Schedules;
import glenmoor.engine.jobs.WorkProgress;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.provisioning.SeenAccounts;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Bulk;
import glenmoor.store.Ids;
import glenmoor.store.Parts;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.reconcile.DriftMapper;
import glenmoor.store.reconcile.ExpectedRows;
import glenmoor.store.reconcile.FoundMapper;
import glenmoor.store.usage.UsageMapper;
import jakarta.inject.Named;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.Executors;
import org.jspecify.annotations.Nullable;

/** Compares applications with what is expected of them, as long work. */
@Named
public final class Reconciles implements RecurringJob.Owner {
  /** Which application is compared. */
  public record Reconcile(String application) {}

  /**
   * What a comparison came to.
   *
   * @param drifts how many differences are open
   * @param repaired how many were answered by a repair at once, as the definition says
   * @param adopted how many were answered by adopting
   * @param held the held change that waits for somebody, where a brake holds the repairs
   */
  public record Reconciled(
      long id,
      String application,
      int accounts,
      int memberships,
      int passedOver,
      int drifts,
      int repaired,
      int adopted,
      @Nullable Long held) {}

  private static final int LINES_AT_ONCE = 1_000;

  private final FoundMapper mapper;
  private final ExpectedRows expected;
  private final DriftMapper drifts;
  private final UsageMapper usage;
  private final DriftFinder finder;
  private final DriftResponses responses;
  private final Connections connections;
  private final KnownApplications applications;
  private final Catalogues catalogues;
  private final Jobs jobs;
  private final Schedules schedules;
  private final Transactions transactions;
  private final FoundBatches batches;
  private final Ledger ledger;
  private final Ids ids;
  private final Clock clock;
  private final Reconciling reconciling = new Reconciling();

  public Reconciles(
      FoundMapper mapper,
      ExpectedRows expected,
      DriftMapper drifts,
      UsageMapper usage,
      OperationMapper operations,
      SeenAccounts accounts,
      DriftResponses responses,
      Connections connections,
      KnownApplications applications,
      Catalogues catalogues,
      Jobs jobs,
      Schedules schedules,
      Transactions transactions,
      Bulk bulk,
      Ledger ledger,
      Ids ids,
      Clock clock) {
    this.mapper = mapper;
    this.expected = expected;
    this.drifts = drifts;
    this.usage = usage;
    this.responses = responses;
    this.connections = connections;
    this.applications = applications;
    this.catalogues = catalogues;
    this.jobs = jobs;
    this.schedules = schedules;
    this.transactions = transactions;
    this.ledger = ledger;
    this.ids = ids;
    this.clock = clock;
    batches = new FoundBatches(mapper, usage, bulk, transactions, clock);
    finder = new DriftFinder(mapper, drifts, operations, accounts, transactions, ids, clock);
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
    mapper.replaced().forEach(this::forget);
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
      return new Comparison(run, actor, progress).compare();
    }

    @Override
    public void ended(Reconcile input, long work, boolean done, String sentence) {
      var run = mapper.ofWork(work);
      if (run != null && !done) {
        mapper.end(over(run, "failed", 0, 0, 0, 0, sentence));
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

  private ReconcileRun over(
      ReconcileRun run,
      String state,
      int accounts,
      int memberships,
      int passedOver,
      int open,
      String sentence) {
    return new ReconcileRun(
        run.id(),
        run.application(),
        state,
        run.askedBy(),
        run.work(),
        run.startedAt(),
        clock.instant(),
        accounts,
        memberships,
        passedOver,
        open,
        sentence.length() > 1_000 ? sentence.substring(0, 1_000) : sentence);
  }

  /** One comparison under way. */
  private final class Comparison {
    private final ReconcileRun run;
    private final Actor actor;
    private final WorkProgress progress;

    Comparison(ReconcileRun run, Actor actor, WorkProgress progress) {
      this.run = run;
      this.actor = actor;
      this.progress = progress;
    }

    Reconciled compare() {
      var catalogue = catalogues.current();
      var application = applications.of(run.application(), Permission.RECONCILE, actor);
      var rule = ReconcileKind.of(run.application(), catalogue.defined());
      forget(run.id());
      var expectations = new Expectations();
      var writer = read(application, expectations);
      nothingIsNoAnswer(application, writer.accounts());
      transactions.run(() -> {
        join(expectations);
        usage.keepFound(run.id(), clock.instant(), clock.instant().plus(Used.AHEAD));
      });
      var missing = new ArrayList<Long>();
      expectations.missing(missing::add);
      var passedOver =
          finder.find(run.id(), application, rule, catalogue, run.startedAt(), missing, progress);
      transactions.run(() -> {
        drifts.gone(run.application(), run.id(), run.startedAt(), clock.instant());
        writer
            .unknown()
            .forEach(each ->
                mapper.keepRight(
                    each.application(),
                    each.kind(),
                    each.technicalName(),
                    each.holders(),
                    run.id()));
        mapper.dropRights(run.application(), run.id());
      });
      var answered = responses.respond(run, rule, actor, progress);
      return kept(writer, passedOver, answered);
    }

    /** Finds whose the kept accounts are; one that was found by its identity has no second. */
    private void join(Expectations expectations) {
      mapper.joinByNativeId(run.id(), run.application());
      mapper.joinByWorker(run.id(), run.application());
      var seconds = new ArrayList<Integer>();
      mapper.joinedByWorker(
          run.id(),
          each -> {
            var joined = each.getResultObject();
            if (expectations.isSeen(joined.accountId())) {
              seconds.add(joined.line());
            } else {
              expectations.seen(joined.accountId());
            }
          });
      Parts.each(seconds, LINES_AT_ONCE, lines -> mapper.release(run.id(), lines));
    }

    private FoundWriter read(Application application, Expectations expectations) {
      var defined =
          catalogues.current().entitlements().values().stream()
              .filter(each -> each.application().equals(application.key()))
              .toList();
      var writer =
          new FoundWriter(run.id(), application.key(), defined, expectations, batches, progress);
      var withRights = application.can(Ability.LIST_MEMBERSHIPS);
      try (var listing =
              new Listing(reader ->
                  connections.reading(
                      application,
                      connector -> {
                        connector.list(reader::account);
                        if (withRights) {
                          connector.memberships(reader::membership);
                        }
                      }));
          var beside = Executors.newSingleThreadExecutor(Thread.ofVirtual().factory())) {
        // Both are read at once: what is done for an account meanwhile is passed over.
        expected.accounts(application.key(), expectations::expect);
        var rights =
            CompletableFuture.runAsync(
                () -> {
                  if (withRights) {
                    expected.rights(application.key(), expectations::expectRight);
                  }
                },
                beside);
        listing.each(writer::account, writer::membership);
        rights.join();
      } catch (CompletionException failed) {
        throw failed.getCause() instanceof RuntimeException why ? why : failed;
      }
      writer.done(withRights);
      return writer;
    }

    /** An application that lists nobody has lost its way more often than its accounts. */
    private void nothingIsNoAnswer(Application application, int listed) {
      var known = listed == 0 ? mapper.countKnown(application.key()) : 0;
      if (known > 0) {
        throw new Refused(
            Refused.Reason.NOT_NOW,
            "%s lists no account at all, and %,d are known there. Nothing was compared: look whether its settings still lead to its accounts."
                .formatted(application.name(), known));
      }
    }

    private Reconciled kept(FoundWriter writer, int passedOver, DriftResponses.Answered answered) {
      return transactions.run(() -> {
        var open = drifts.countOpen(run.application());
        mapper.end(
            over(run, "done", writer.accounts(), writer.memberships(), passedOver, open, ""));
        var result =
            new Reconciled(
                run.id(),
                run.application(),
                writer.accounts(),
                writer.memberships(),
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
                    "accounts", writer.accounts(),
                    "drifts", open,
                    "repaired", answered.repaired(),
                    "adopted", answered.adopted(),
                    "passedOver", passedOver)));
        progress.keep(result);
        return result;
      });
    }
  }

  /** Deletes what was listed for a comparison, in parts. */
  private void forget(long run) {
    int dropped;
    do {
      dropped = transactions.run(() -> mapper.dropLines(run) + mapper.dropHeld(run));
    } while (dropped > 0);
  }
}
