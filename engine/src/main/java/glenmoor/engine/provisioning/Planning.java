package glenmoor.engine.provisioning;

import glenmoor.core.access.Catalogue;
import glenmoor.core.forecast.Forecast;
import glenmoor.core.provisioning.NameNumbers;
import glenmoor.core.provisioning.PersonPicture;
import glenmoor.core.provisioning.PersonPlan;
import glenmoor.core.provisioning.Planner;
import glenmoor.engine.agenda.Clock;
import glenmoor.engine.agenda.Transactions;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonMapper.Due;
import glenmoor.store.provisioning.AccountMapper;
import java.util.List;
import java.util.concurrent.locks.ReentrantLock;
import java.util.function.Function;
import java.util.stream.Collectors;

/**
 * Plans for everybody whose planning is due, in batches: what changed, a date that came,
 * definitions that were loaded all end here, and nothing else decides what access anybody has.
 */
public final class Planning {
  private static final int BATCH = 200;

  private final ReentrantLock oneAtATime = new ReentrantLock();
  private final PersonMapper people;
  private final AccountMapper accounts;
  private final Pictures pictures;
  private final PlanKeeper keeper;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Clock clock;

  public Planning(
      PersonMapper people,
      AccountMapper accounts,
      Pictures pictures,
      PlanKeeper keeper,
      Catalogues catalogues,
      Transactions transactions,
      Clock clock) {
    this.people = people;
    this.accounts = accounts;
    this.pictures = pictures;
    this.keeper = keeper;
    this.catalogues = catalogues;
    this.transactions = transactions;
    this.clock = clock;
  }

  /** Plans for all who are due now; each batch is a transaction, and harmless if done twice. */
  public int planDue() {
    // Whoever asks next waits: two who plan side by side here would only contend for the same rows.
    oneAtATime.lock();
    try {
      var planned = 0;
      int batch;
      do {
        batch = transactions.run(this::planBatch);
        planned += batch;
      } while (batch > 0);
      return planned;
    } finally {
      oneAtATime.unlock();
    }
  }

  private int planBatch() {
    var now = clock.instant();
    var due = people.takeDue(now, BATCH);
    if (due.isEmpty()) {
      return 0;
    }
    var catalogue = catalogues.current();
    var rows = people.lock(due.stream().map(Due::id).toList());
    var batch = pictures.of(rows, catalogue);
    var planner = new Planner(catalogue, numbers(batch, catalogue), now);
    var plans = batch.stream().map(planner::plan).toList();
    var causes = due.stream().collect(Collectors.toMap(Due::id, Due::dueCause));
    keeper.keep(plans, causes, now);
    return rows.size();
  }

  /** The numbers in use of all names that a batch may need: one question an application. */
  private NameNumbers numbers(List<PersonPicture> batch, Catalogue catalogue) {
    var numbers = numbers();
    Planner.baseNames(batch, catalogue)
        .forEach((application, bases) -> {
          bases.forEach(base -> numbers.tell(application, base, 0));
          accounts
              .highest(application, bases)
              .forEach(row -> numbers.tell(application, row.baseName(), row.number()));
        });
    return numbers;
  }

  private NameNumbers numbers() {
    return new NameNumbers((application, base) ->
        accounts.highest(application, List.of(base)).stream()
            .findFirst()
            .map(AccountMapper.Highest::number)
            .orElse(0));
  }

  /** A planner that keeps nothing: for forecasts. */
  public Function<PersonPicture, PersonPlan> forecaster(Catalogue catalogue) {
    return new Planner(catalogue, numbers(), clock.instant())::plan;
  }

  /** What a catalogue would change for everybody there is, a batch of people at a time. */
  public Forecast.Sum forecastAll(Catalogue catalogue) {
    var forecast = new Forecast();
    var planner = forecaster(catalogue);
    var after = 0L;
    while (true) {
      var ids = people.idsAfter(after, BATCH);
      if (ids.isEmpty()) {
        return forecast.sum();
      }
      after = ids.getLast();
      for (var picture : pictures.of(people.byIds(ids), catalogue)) {
        var plan = planner.apply(picture);
        if (plan.operations() > 0) {
          forecast.count(plan, "");
        }
      }
    }
  }
}
