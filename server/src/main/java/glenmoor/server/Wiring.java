package glenmoor.server;

import com.github.kagkarlsson.scheduler.Scheduler;
import com.github.kagkarlsson.scheduler.task.helper.Tasks;
import com.github.kagkarlsson.scheduler.task.schedule.FixedDelay;
import glenmoor.engine.access.AccessDesk;
import glenmoor.engine.agenda.Agenda;
import glenmoor.engine.agenda.Clock;
import glenmoor.engine.agenda.Jobs;
import glenmoor.engine.agenda.MovableClock;
import glenmoor.engine.agenda.SystemClock;
import glenmoor.engine.agenda.Transactions;
import glenmoor.engine.applications.Applications;
import glenmoor.engine.authorization.Duties;
import glenmoor.engine.brakes.HeldChanges;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.definitions.DefinitionDesk;
import glenmoor.engine.definitions.InUse;
import glenmoor.engine.identity.SignIns;
import glenmoor.engine.identity.Tokens;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.lifecycle.EventDesk;
import glenmoor.engine.lifecycle.FeedDesk;
import glenmoor.engine.lifecycle.FeedForecasting;
import glenmoor.engine.lifecycle.FeedLoading;
import glenmoor.engine.lifecycle.FeedRecord;
import glenmoor.engine.people.PeopleDesk;
import glenmoor.engine.people.Visible;
import glenmoor.engine.progress.Progress;
import glenmoor.engine.provisioning.Couriers;
import glenmoor.engine.provisioning.FaultDesk;
import glenmoor.engine.provisioning.OperationDesk;
import glenmoor.engine.provisioning.Pictures;
import glenmoor.engine.provisioning.PlanKeeper;
import glenmoor.engine.provisioning.Planning;
import glenmoor.engine.provisioning.Recorder;
import glenmoor.engine.provisioning.RetryDesk;
import glenmoor.engine.provisioning.Secrets;
import glenmoor.engine.today.Today;
import glenmoor.store.Bulk;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.agenda.AgendaMapper;
import glenmoor.store.agenda.Ids;
import glenmoor.store.agenda.JobMapper;
import glenmoor.store.applications.HealthMapper;
import glenmoor.store.authorization.DutyMapper;
import glenmoor.store.brakes.HeldMapper;
import glenmoor.store.definitions.DefinitionMapper;
import glenmoor.store.identity.SignInMapper;
import glenmoor.store.ledger.LedgerMapper;
import glenmoor.store.lifecycle.EventMapper;
import glenmoor.store.lifecycle.FeedMapper;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.progress.ProgressMapper;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.OperationMapper;
import java.nio.file.Path;
import java.time.Duration;
import javax.sql.DataSource;
import org.slf4j.LoggerFactory;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.ApplicationListener;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.transaction.PlatformTransactionManager;

/** How the parts are put together: every part gets what it works with by its constructor. */
@Configuration(proxyBeanMethods = false)
class Wiring {
  private static final Duration SWEEP = Duration.ofSeconds(1);
  private static final Duration HEALTH = Duration.ofSeconds(20);

  @Bean
  Clock clock(
      ServiceSettings settings, AgendaMapper agenda, PlatformTransactionManager transactions) {
    return settings
        .demoClock()
        .<Clock>map(first -> new MovableClock(agenda, transactions, first))
        .orElseGet(SystemClock::new);
  }

  @Bean
  Ids ids(AgendaMapper agenda, PlatformTransactionManager transactions) {
    return new Ids(agenda, transactions);
  }

  @Bean
  Transactions transactions(
      PlatformTransactionManager transactions, AgendaMapper agenda, Clock clock) {
    return new Transactions(transactions, agenda, clock);
  }

  @Bean
  Bulk bulk(DataSource dataSource) {
    return new Bulk(dataSource);
  }

  @Bean
  Ledger ledger(LedgerMapper mapper, Bulk bulk, Ids ids) {
    return new Ledger(mapper, bulk, ids);
  }

  @Bean
  Progress progress(ProgressMapper mapper, Clock clock) {
    return new Progress(mapper, clock);
  }

  @Bean
  Secrets secrets(ServiceSettings settings) {
    return Secrets.keyedBy(Path.of(settings.get(Setting.GLENMOOR_KEY_FILE)));
  }

  @Bean
  Catalogues catalogues(DefinitionMapper mapper, ServiceSettings settings) {
    return new Catalogues(mapper, settings.zone());
  }

  @Bean
  Pictures pictures(GrantMapper grants, AccountMapper accounts, OperationMapper operations) {
    return new Pictures(grants, accounts, operations);
  }

  @Bean
  PlanKeeper planKeeper(
      PersonMapper people,
      EventMapper events,
      GrantMapper grants,
      AccountMapper accounts,
      OperationMapper operations,
      Bulk bulk,
      Ledger ledger,
      Ids ids) {
    return new PlanKeeper(people, events, grants, accounts, operations, bulk, ledger, ids);
  }

  @Bean
  Planning planning(
      PersonMapper people,
      AccountMapper accounts,
      Pictures pictures,
      PlanKeeper keeper,
      Catalogues catalogues,
      Transactions transactions,
      Clock clock) {
    return new Planning(people, accounts, pictures, keeper, catalogues, transactions, clock);
  }

  @Bean
  Applications applications(
      Catalogues catalogues, HealthMapper health, Clock clock, ServiceSettings settings) {
    return new Applications(catalogues, health, clock, settings.forConnectors());
  }

  @Bean
  Recorder recorder(
      OperationMapper operations,
      AccountMapper accounts,
      PersonMapper people,
      Ledger ledger,
      Transactions transactions) {
    return new Recorder(operations, accounts, people, ledger, transactions);
  }

  @Bean
  Couriers couriers(
      OperationMapper operations,
      AccountMapper accounts,
      Applications applications,
      Recorder recorder,
      Secrets secrets,
      Transactions transactions,
      Clock clock) {
    return new Couriers(operations, accounts, applications, recorder, secrets, transactions, clock);
  }

  @Bean
  OperationDesk operationDesk(
      OperationMapper operations,
      PersonMapper people,
      AccountMapper accounts,
      Couriers couriers,
      Catalogues catalogues,
      Secrets secrets,
      Transactions transactions,
      Bulk bulk,
      Ledger ledger,
      Ids ids,
      Clock clock) {
    return new OperationDesk(
        operations,
        people,
        accounts,
        couriers,
        catalogues,
        secrets,
        transactions,
        bulk,
        ledger,
        ids,
        clock);
  }

  @Bean
  FaultDesk faultDesk(
      OperationDesk desk,
      OperationMapper operations,
      PersonMapper people,
      AccountMapper accounts,
      Couriers couriers,
      Catalogues catalogues,
      Transactions transactions,
      Ledger ledger,
      Ids ids,
      Clock clock) {
    return new FaultDesk(
        desk, operations, people, accounts, couriers, catalogues, transactions, ledger, ids, clock);
  }

  @Bean
  RetryDesk retryDesk(
      OperationDesk desk,
      OperationMapper operations,
      PersonMapper people,
      AccountMapper accounts,
      Couriers couriers,
      Pictures pictures,
      Planning planning,
      Catalogues catalogues,
      Agenda agenda,
      Transactions transactions,
      Ledger ledger,
      Clock clock) {
    return new RetryDesk(
        desk,
        operations,
        people,
        accounts,
        couriers,
        pictures,
        planning,
        catalogues,
        agenda::sweep,
        transactions,
        ledger,
        clock);
  }

  @Bean
  Agenda agenda(
      Clock clock,
      Planning planning,
      Couriers couriers,
      PersonMapper people,
      OperationMapper operations,
      Progress progress,
      Ledger ledger) {
    return new Agenda(clock, planning, couriers, people, operations, progress, ledger);
  }

  @Bean
  FeedRecord feedRecord(
      FeedMapper feeds, Transactions transactions, Ledger ledger, Ids ids, Clock clock) {
    return new FeedRecord(feeds, transactions, ledger, ids, clock);
  }

  @Bean
  FeedLoading feedLoading(
      FeedRecord record,
      FeedForecasting forecasting,
      HeldChanges held,
      PersonMapper people,
      GrantMapper grants,
      Catalogues catalogues,
      SignIns signIns,
      Agenda agenda,
      Transactions transactions,
      Ledger ledger,
      Ids ids,
      Clock clock,
      DataSource dataSource) {
    return new FeedLoading(
        record,
        forecasting,
        held,
        people,
        grants,
        catalogues,
        signIns,
        agenda::sweep,
        transactions,
        ledger,
        ids,
        clock,
        dataSource);
  }

  @Bean
  HeldChanges heldChanges(
      HeldMapper mapper,
      Transactions transactions,
      Progress progress,
      Ledger ledger,
      Ids ids,
      Clock clock) {
    return new HeldChanges(mapper, transactions, progress, ledger, ids, clock);
  }

  @Bean
  Jobs jobs(JobMapper mapper) {
    return new Jobs(mapper);
  }

  @Bean
  FeedForecasting feedForecasting(
      PersonMapper people,
      Catalogues catalogues,
      Pictures pictures,
      Planning planning,
      Clock clock,
      DataSource dataSource) {
    return new FeedForecasting(people, catalogues, pictures, planning, clock, dataSource);
  }

  @Bean
  FeedDesk feedDesk(
      FeedMapper feeds,
      Catalogues catalogues,
      Progress progress,
      FeedLoading loading,
      FeedForecasting forecasting) {
    return new FeedDesk(feeds, catalogues, progress, loading, forecasting);
  }

  @Bean
  EventDesk eventDesk(EventMapper events) {
    return new EventDesk(events);
  }

  @Bean
  DefinitionDesk definitionDesk(
      Catalogues catalogues,
      DefinitionMapper mapper,
      AccountMapper accounts,
      PersonMapper people,
      Planning planning,
      Applications applications,
      HeldChanges held,
      Transactions transactions,
      Ledger ledger,
      Clock clock) {
    var desk =
        new DefinitionDesk(
            catalogues,
            mapper,
            new InUse(accounts, people),
            people,
            accounts,
            planning,
            applications::missing,
            held,
            transactions,
            ledger,
            clock);
    desk.releasedBy(held);
    return desk;
  }

  @Bean
  Visible visible(PersonMapper people, Catalogues catalogues) {
    return new Visible(people, catalogues);
  }

  @Bean
  PeopleDesk peopleDesk(PersonMapper people, Visible visible, Catalogues catalogues, Clock clock) {
    return new PeopleDesk(people, visible, catalogues, clock);
  }

  @Bean
  AccessDesk accessDesk(
      PersonMapper people,
      AccountMapper accounts,
      OperationMapper operations,
      Visible visible,
      Pictures pictures,
      Catalogues catalogues,
      Clock clock) {
    return new AccessDesk(people, accounts, operations, visible, pictures, catalogues, clock);
  }

  @Bean
  Duties duties(
      DutyMapper duties,
      SignInMapper signIns,
      Transactions transactions,
      Ledger ledger,
      Ids ids,
      Catalogues catalogues,
      Clock clock) {
    return new Duties(duties, signIns, transactions, ledger, ids, catalogues, clock);
  }

  @Bean
  SignIns signIns(
      SignInMapper signIns,
      PersonMapper people,
      Duties duties,
      Transactions transactions,
      Ledger ledger,
      Clock clock) {
    return new SignIns(signIns, people, duties, transactions, ledger, clock);
  }

  @Bean
  Tokens tokens(
      SignInMapper rows, SignIns signIns, Transactions transactions, Ledger ledger, Clock clock) {
    return new Tokens(rows, signIns, transactions, ledger, clock);
  }

  @Bean
  Today today(
      PersonMapper people,
      EventMapper events,
      FeedMapper feeds,
      OperationMapper operations,
      Applications applications,
      HeldChanges held,
      Planning planning,
      Catalogues catalogues,
      Clock clock) {
    return new Today(
        people, events, feeds, operations, applications, held, planning, catalogues, clock);
  }

  /** What recurs: one replica at a time does each, whichever comes first. */
  @Bean(destroyMethod = "stop")
  Scheduler scheduler(
      DataSource dataSource,
      Agenda agenda,
      Applications applications,
      Progress progress,
      FeedRecord feeds,
      HeldChanges held,
      SignIns signIns) {
    return Scheduler.create(dataSource)
        .startTasks(
            Tasks.recurring("sweep", FixedDelay.of(SWEEP))
                .execute((instance, context) -> quietly("sweep", agenda::sweep)),
            Tasks.recurring("health", FixedDelay.of(HEALTH))
                .execute((instance, context) -> quietly("health", applications::checkHealth)),
            Tasks.recurring("closing", FixedDelay.of(HEALTH))
                .execute((instance, context) ->
                    quietly(
                        "closing",
                        () -> {
                          progress.closeDead();
                          feeds.closeDead();
                          held.holdAgain();
                          signIns.endLeavers();
                        })))
        .threads(2)
        .pollingInterval(Duration.ofMillis(500))
        // What a killed service had picked is taken over after four of these, well within 30 s.
        .heartbeatInterval(Duration.ofSeconds(5))
        .missedHeartbeatsLimit(4)
        .alwaysPersistTimestampInUTC()
        .build();
  }

  /** A database that is away is one line in the log, not a page. */
  private static void quietly(String job, Runnable work) {
    try {
      work.run();
    } catch (RuntimeException failed) {
      if (!DatabaseAway.isAway(failed)) {
        LoggerFactory.getLogger(Wiring.class).error("The job {} failed", job, failed);
        throw failed;
      }
      LoggerFactory.getLogger(Wiring.class)
          .debug("{} waits for the database: {}", job, failed.getMessage());
    }
  }

  /** Once the doors are open: the first administrator, the couriers, and what recurs. */
  @Bean
  ApplicationListener<ApplicationReadyEvent> begin(
      ServiceSettings settings,
      SignIns signIns,
      Couriers couriers,
      Progress progress,
      Scheduler scheduler) {
    return ready -> {
      var password = settings.secret(Setting.GLENMOOR_ADMIN_PASSWORD_FILE);
      if (!password.isEmpty()) {
        signIns.first(settings.get(Setting.GLENMOOR_ADMIN_LOGIN), password);
      }
      progress.beat();
      couriers.start();
      scheduler.start();
    };
  }
}
