package glenmoor.engine.exchange;

import glenmoor.connect.exchange.FilesConnector;
import glenmoor.core.applications.Application;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.exchange.Exchange;
import glenmoor.core.exchange.ExchangeKind;
import glenmoor.core.exchange.OrderFile;
import glenmoor.engine.Refused;
import glenmoor.engine.agenda.FallsDue;
import glenmoor.engine.applications.Connections;
import glenmoor.engine.applications.KnownApplications;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.installation.InstallationState;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.provisioning.OperationWorkers;
import glenmoor.engine.time.Clock;
import glenmoor.store.exchange.OrderFileMapper;
import glenmoor.store.provisioning.OperationMapper;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DataAccessException;

/**
 * Writes files for applications that take files, when they are due or somebody asks, and looks for
 * answers: what waits for one is tried again then, and reads in it what came of it.
 *
 * <p>A file is due when something waited at a moment of its schedule and no file was written since;
 * so one that could not be written is written as soon as it can be, by whichever service looks.
 * Whoever must go this minute waits for no schedule.
 */
@Named
public final class FileExchange implements RecurringJob.Owner, FallsDue {
  private static final Logger LOG = LoggerFactory.getLogger(FileExchange.class);
  private static final String SCHEDULE = "schedule";
  private static final String CUT_OFF = "cut-off";
  private static final int AT_ONCE = 1_000;

  /** So long somebody who moves a clock waits for the answer to a file. */
  /** Answers are files: nothing in the database tells of them. */
  private static final Duration LOOK = Duration.ofSeconds(2);

  private static final Duration ANSWERED_WITHIN = Duration.ofSeconds(10);

  private final OrderFileMapper files;
  private final OrderWriter writer;
  private final OperationMapper operations;
  private final OperationWorkers workers;
  private final Connections connections;
  private final InstallationState installation;
  private final Catalogues catalogues;
  private final KnownApplications applications;
  private final Clock clock;

  FileExchange(
      OrderFileMapper files,
      OrderWriter writer,
      OperationMapper operations,
      OperationWorkers workers,
      Connections connections,
      InstallationState installation,
      Catalogues catalogues,
      KnownApplications applications,
      Clock clock) {
    this.files = files;
    this.writer = writer;
    this.operations = operations;
    this.workers = workers;
    this.connections = connections;
    this.installation = installation;
    this.catalogues = catalogues;
    this.applications = applications;
    this.clock = clock;
  }

  /**
   * A page of an application's files, the newest first.
   *
   * @param before only those before this identity
   * @throws Refused if there is no such application
   */
  public List<OrderFile> list(String key, @Nullable Long before, int limit, Actor actor) {
    applications.of(key, Permission.SEE_APPLICATIONS, actor);
    return files.of(key, before, limit);
  }

  /**
   * Writes a file now.
   *
   * @throws Refused if the application takes none, nothing waits, or it cannot be written
   */
  public OrderFile write(String key, Actor actor) {
    var application = applications.of(key, Permission.DECIDE_OPERATIONS, actor);
    if (!ExchangeKind.takesFiles(application)) {
      throw Refused.badInput(
          "%s takes no files; its connector is %s."
              .formatted(application.name(), application.connector()));
    }
    installation.mayAct();
    return write(application, actor.login())
        .orElseThrow(() ->
            new Refused(
                Refused.Reason.NOT_NOW,
                "Nothing waits for %s, so there is nothing to write."
                    .formatted(application.name())));
  }

  private Optional<OrderFile> write(Application application, String by) {
    var written = new ArrayList<OrderFile>();
    connections.here(
        application,
        connector -> {
          if (connector instanceof FilesConnector folder) {
            writer.write(application, rule(application), folder, by).ifPresent(written::add);
          }
        });
    return written.stream().findFirst();
  }

  private Exchange rule(Application application) {
    return ExchangeKind.of(application.key(), catalogues.current().defined());
  }

  private Stream<Application> taking() {
    return connections.all().stream().filter(ExchangeKind::takesFiles);
  }

  @Override
  public List<RecurringJob> recurring() {
    return List.of(
        new RecurringJob(
            "exchange",
            "writes files for applications that take files, and looks for their answers",
            LOOK,
            LOOK,
            this::carryOut));
  }

  @Override
  public int carryOut() {
    return installation.quiet() ? 0 : taking().mapToInt(this::carryOut).sum();
  }

  /** One application that cannot be written for keeps no other from being written for. */
  private int carryOut(Application application) {
    try {
      var done = answered(application);
      var why = why(application);
      return done + (why.isPresent() && write(application, why.get()).isPresent() ? 1 : 0);
    } catch (Refused | DataAccessException failed) {
      LOG.debug("Files of {}: {}", application.key(), failed.getMessage());
      return 0;
    }
  }

  /** Why a file is to be written now; nothing if none is. */
  private Optional<String> why(Application application) {
    var key = application.key();
    if (connections.closed().contains(key)) {
      return Optional.empty();
    }
    if (files.cutOffWaits(key)) {
      return Optional.of(CUT_OFF);
    }
    var rule = rule(application);
    return rule.at()
        .flatMap(at -> at.last(clock.instant(), catalogues.zone()))
        .filter(last -> missed(key, rule, last))
        .map(last -> SCHEDULE);
  }

  /** Whether a moment of the schedule found something to write, and nothing was written since. */
  private boolean missed(String key, Exchange rule, Instant moment) {
    var newest = files.newest(key);
    return (newest == null || newest.writtenAt().isBefore(moment))
        && (files.waitedAt(key, moment) || newest != null && rule.rows() == Exchange.Rows.ALL);
  }

  /** Tries again what waits for an answer, once there is a new one. */
  private int answered(Application application) {
    var tried = new int[1];
    connections.here(
        application,
        connector -> {
          if (connector instanceof FilesConnector folder) {
            folder
                .answered()
                .filter(answer -> writer.isNew(application, answer))
                .ifPresent(answer -> tried[0] = wake(application.key()));
          }
        });
    return tried[0];
  }

  private int wake(String application) {
    var woken = 0;
    var after = 0L;
    while (true) {
      var accounts = files.awaiting(application, after, AT_ONCE);
      if (accounts.isEmpty()) {
        workers.wake();
        return woken;
      }
      operations.beforeAll(accounts, clock.instant());
      operations.look(accounts);
      woken += accounts.size();
      after = accounts.getLast();
    }
  }

  /** The next moment of a schedule for which something waits. */
  @Override
  public @Nullable Instant next() {
    return taking()
        .filter(each -> rule(each).rows() == Exchange.Rows.ALL || files.waits(each.key()))
        .flatMap(each -> rule(each).at().stream())
        .flatMap(at -> at.next(clock.instant(), catalogues.zone()).stream())
        .min(Instant::compareTo)
        .orElse(null);
  }

  @Override
  public boolean busy() {
    return taking().findAny().isPresent()
        && files.openSince(clock.instant().minus(ANSWERED_WITHIN)) > 0;
  }
}
