package glenmoor.engine.provisioning;

import glenmoor.core.access.Catalogue;
import glenmoor.core.conditions.Trouble;
import glenmoor.core.definitions.Concern;
import glenmoor.core.forecast.Forecast;
import glenmoor.core.provisioning.AccountNames;
import glenmoor.core.provisioning.PersonPlan;
import glenmoor.core.provisioning.PersonSnapshot;
import glenmoor.core.provisioning.Planner;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.definitions.DueMarks;
import glenmoor.engine.definitions.PlanPreview;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonMapper.Due;
import glenmoor.store.people.PersonRow;
import glenmoor.store.provisioning.AccountMapper;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.Semaphore;
import java.util.concurrent.ThreadLocalRandom;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.locks.ReentrantLock;
import java.util.function.Function;
import java.util.function.IntConsumer;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DataAccessResourceFailureException;
import org.springframework.dao.TransientDataAccessException;
import org.springframework.transaction.TransactionException;

/**
 * Plans for everybody whose planning is due, in batches: what changed, a date that came,
 * definitions that were loaded all end here, and nothing else decides what access anybody has.
 */
@Named
public final class Planning implements PlanPreview, RecurringJob.Owner {
  private static final Logger LOG = LoggerFactory.getLogger(Planning.class);
  private static final Duration LATE = Duration.ofMinutes(2);
  private static final int BATCH = 500;
  private static final int AT_ONCE_TRIES = 5;

  /**
   * How many plan side by side in one service. Each takes people that nobody else has taken; two
   * who want the same name at the same moment are told apart by the database, and one tries again.
   */
  public record SideBySide(int planners) {}

  /** So many more services may plan beside the one that sweeps, where there is much to plan. */
  private static final int HELPERS = 3;

  /** So many people are worth another planner. */
  private static final int MANY = 4 * BATCH;

  private final ReentrantLock oneAtATime = new ReentrantLock();
  private static final Duration LONGEST_WAIT = Duration.ofSeconds(30);
  private static final Duration LOOK = Duration.ofMillis(10);

  /** Those that plan here beside the first one. */
  private final Semaphore helpers;

  private final PersonMapper people;
  private final AccountMapper accounts;
  private final PersonSnapshots snapshots;
  private final PlanWriter writer;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Clock clock;
  private final DueMarks marks;

  public Planning(
      PersonMapper people,
      AccountMapper accounts,
      PersonSnapshots snapshots,
      PlanWriter writer,
      Catalogues catalogues,
      Transactions transactions,
      Clock clock,
      SideBySide sideBySide,
      DueMarks marks) {
    this.marks = marks;
    this.people = people;
    this.accounts = accounts;
    this.snapshots = snapshots;
    this.writer = writer;
    this.catalogues = catalogues;
    this.transactions = transactions;
    this.clock = clock;
    helpers = new Semaphore(sideBySide.planners() - 1);
  }

  /** Since when somebody waits to be planned for too long; null while planning gets on. */
  public @Nullable Instant lateSince() {
    var now = clock.instant();
    return people.lateSince(now.minus(LATE));
  }

  /** Plans for all who are due now; each batch is a transaction, and harmless if done twice. */
  public int planDue() {
    // Whoever asks next waits: what is due is being planned for already.
    oneAtATime.lock();
    try {
      var planned = 0;
      var until = System.nanoTime() + LONGEST_WAIT.toNanos();
      do {
        var first = planBatch();
        // Most sweeps find a handful: more than one planner is worth it only where there is more.
        planned += first < BATCH ? first : first + together();
        // Others may have taken some, and be about to write what they planned.
      } while (people.due(clock.instant(), 1) > 0 && System.nanoTime() < until && rested());
      return planned;
    } finally {
      oneAtATime.unlock();
    }
  }

  private static boolean rested() {
    try {
      Thread.sleep(LOOK);
      return true;
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
      return false;
    }
  }

  private int planRest() {
    var planned = 0;
    int batch;
    do {
      batch = planBatch();
      planned += batch;
    } while (batch > 0);
    return planned;
  }

  private int together() {
    var planned = 0;
    try (var beside =
        Executors.newCachedThreadPool(Thread.ofPlatform().name("planner-", 1).factory())) {
      var parts = new ArrayList<Future<Integer>>();
      while (helpers.tryAcquire()) {
        parts.add(beside.submit(this::helped));
      }
      planned += planRest();
      for (var part : parts) {
        planned += part.get();
      }
      return planned;
    } catch (ExecutionException failed) {
      throw failed.getCause() instanceof RuntimeException why
          ? why
          : new IllegalStateException(failed.getCause());
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
      return planned;
    }
  }

  /** Plans the rest under a permit, which it gives back. */
  private int helped() {
    try {
      return planRest();
    } finally {
      helpers.release();
    }
  }

  /**
   * Plans beside whoever sweeps, where there is much: what recurs calls this, so that other
   * services take their part. Each batch is of people that nobody else has taken.
   */
  void help() {
    if (people.due(clock.instant(), MANY) >= MANY && helpers.tryAcquire()) {
      helped();
    }
  }

  @Override
  public List<RecurringJob> recurring() {
    return IntStream.rangeClosed(1, HELPERS)
        .mapToObj(number ->
            new RecurringJob(
                "planning-" + number,
                "plans beside the sweep where there is much to plan",
                Duration.ofSeconds(1),
                this::help))
        .toList();
  }

  private int planBatch() {
    var taken = new ArrayList<Due>();
    try {
      return transactions.run(() -> {
        taken.clear();
        taken.addAll(people.takeDue(clock.instant(), BATCH));
        plan(taken);
        return taken.size();
      });
    } catch (TransientDataAccessException
        | DataAccessResourceFailureException
        | TransactionException away) {
      throw away;
    } catch (RuntimeException failed) {
      LOG.warn(
          "A batch of {} people cannot be planned together: {}", taken.size(), failed.getMessage());
      planApart(List.copyOf(taken), failed);
      return taken.size();
    }
  }

  private void plan(List<Due> due) {
    if (due.isEmpty()) {
      return;
    }
    // Before the definitions: whoever is marked for newer ones meanwhile is planned by those, or is
    // marked afterwards.
    var rows = people.lock(due.stream().map(Due::id).toList());
    var now = clock.instant();
    var catalogue = catalogues.current();
    var batch = snapshots.of(rows, catalogue);
    var names = new NameBook(accounts, catalogue, now);
    names.prepare(batch);
    var planner = new Planner(catalogue, new AccountNames(names), now);
    var plans = batch.stream().map(planner::plan).toList();
    var causes = due.stream().collect(Collectors.toMap(Due::id, Due::dueCause));
    writer.keep(plans, causes, catalogue, now);
  }

  /**
   * Plans for one person at once, whoever else is due, and lets what follows go before everything
   * that waits for the applications.
   */
  public void planNow(long person, String cause) {
    for (var tries = 1; ; tries++) {
      try {
        transactions.run(() -> {
          plan(List.of(new Due(person, cause)));
          writer.beforeAll(person);
        });
        return;
      } catch (TransientDataAccessException busy) {
        // Somebody plans for the same person: what they wrote is seen by the next try.
        if (tries == AT_ONCE_TRIES) {
          throw busy;
        }
      }
    }
  }

  /**
   * Halves a batch that fails until whoever it fails for stands alone: they are set aside, with
   * what they have, and the others go on.
   */
  private void planApart(List<Due> due, RuntimeException failed) {
    if (due.size() == 1) {
      setAside(due.getFirst(), failed);
      return;
    }
    for (var half :
        List.of(due.subList(0, due.size() / 2), due.subList(due.size() / 2, due.size()))) {
      try {
        transactions.run(() -> plan(half));
      } catch (TransientDataAccessException
          | DataAccessResourceFailureException
          | TransactionException away) {
        throw away;
      } catch (RuntimeException again) {
        planApart(half, again);
      }
    }
  }

  private void setAside(Due due, RuntimeException failed) {
    var reference = Long.toHexString(ThreadLocalRandom.current().nextLong() >>> 32);
    LOG.error("Person {} cannot be planned and is set aside ({})", due.id(), reference, failed);
    var sentence =
        failed instanceof FactsJson.Unreadable unreadable
            ? unreadable.getMessage()
                + ", so access stays as it is. Mend the definition of the fact or the record in the source; the service's log says more under "
                + reference
                + "."
            : "Planning failed, so access stays as it is. The service's log says why under %s; once it is mended, plan again."
                .formatted(reference);
    transactions.run(() -> writer.setAside(due.id(), sentence, clock.instant()));
  }

  /** A planner of names that keeps nothing. */
  @Override
  public Planner trying(Catalogue catalogue) {
    var now = clock.instant();
    return new Planner(catalogue, new AccountNames(new NameBook(accounts, catalogue, now)), now);
  }

  /** A planner that keeps nothing: for forecasts, a batch of people at a time. */
  public Function<List<PersonSnapshot>, List<PersonPlan>> forecaster(Catalogue catalogue) {
    var now = clock.instant();
    var names = new NameBook(accounts, catalogue, now);
    var planner = new Planner(catalogue, new AccountNames(names), now);
    return snapshots -> {
      names.prepare(snapshots);
      return snapshots.stream().map(planner::plan).toList();
    };
  }

  /** The pictures of those whose facts are of their types; the others are told of. */
  private List<PersonSnapshot> readable(
      List<PersonRow> rows, Catalogue catalogue, Forecast forecast) {
    try {
      return snapshots.of(rows, catalogue);
    } catch (FactsJson.Unreadable somebody) {
      var good = new ArrayList<PersonSnapshot>();
      for (var row : rows) {
        try {
          good.addAll(snapshots.of(List.of(row), catalogue));
        } catch (FactsJson.Unreadable unreadable) {
          forecast.trouble(
              new Trouble("fact", String.valueOf(unreadable.getMessage())), row.workerNumber());
        }
      }
      return good;
    }
  }

  @Override
  public Forecast.Sum forecast(Catalogue catalogue, Concern concern, IntConsumer told) {
    var forecast = new Forecast(catalogue);
    var planner = forecaster(catalogue);
    var planned = new AtomicInteger();
    marks.each(
        concern,
        catalogues.current(),
        catalogue,
        ids -> {
          for (var plan : planner.apply(readable(people.byIds(ids), catalogue, forecast))) {
            forecast.troubles(plan);
            if (plan.operations() > 0 || !plan.begin().isEmpty() || !plan.amend().isEmpty()) {
              forecast.count(plan, "");
            }
          }
          told.accept(planned.addAndGet(ids.size()));
        });
    return forecast.sum();
  }
}
