package glenmoor.engine.applications;

import glenmoor.connect.applications.Connector;
import glenmoor.connect.applications.ConnectorEnvironment;
import glenmoor.connect.applications.Connectors;
import glenmoor.connect.applications.Settings;
import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.applications.Application;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Reach;
import glenmoor.core.authorization.Scope;
import glenmoor.core.provisioning.Outcome;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.definitions.Prerequisites;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.time.Clock;
import glenmoor.store.applications.HealthMapper;
import glenmoor.store.applications.HealthMapper.HealthRow;
import glenmoor.store.applications.HealthMapper.Load;
import io.github.resilience4j.circuitbreaker.CircuitBreaker;
import io.github.resilience4j.circuitbreaker.CircuitBreakerConfig;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.Executor;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Function;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DataAccessException;
import org.springframework.transaction.TransactionException;

/**
 * The applications there are: an open connector for each, a breaker before it, and its health.
 *
 * <p>After repeated failures to reach an application its breaker opens: for some seconds nothing is
 * sent, then a few operations try again. The queue waits meanwhile, and loses nothing.
 */
@Named
public final class Applications implements Prerequisites, AutoCloseable, RecurringJob.Owner {
  private static final int FAILURES = 4;
  private static final Duration PAUSE = Duration.ofSeconds(3);
  private static final int PROBES = 2;

  /** A door that does not let Glenmoor in is not knocked at all the time: it may lock for good. */
  private static final Duration SHUT = Duration.ofSeconds(30);

  private static final Duration LONGEST_TEST = Duration.ofSeconds(15);
  private static final int LONGEST_SENTENCE = 1_000;

  /** An application with its health and the counts of its work. */
  public record Summary(
      String key,
      String name,
      String connector,
      String health,
      String sentence,
      @Nullable Instant since,
      int accounts,
      int enabled,
      int waiting,
      int faults,
      int confirmedToday) {}

  /** An application that does not work as it should. */
  public record Unwell(
      String key, String name, String sentence, @Nullable Instant since, int waiting) {}

  /** What a test of an application showed. */
  public record TestResult(
      String key,
      String name,
      boolean well,
      String sentence,
      int accountsThere,
      int accountsKnown,
      List<String> abilities,
      List<String> missing) {}

  /** An open connector; {@code shutUntil} is by the system's nanosecond clock, 0 for not shut. */
  private record Open(
      Application application, Connector connector, CircuitBreaker breaker, AtomicLong shutUntil) {
    boolean isShut() {
      var until = shutUntil.get();
      return until != 0 && System.nanoTime() - until < 0;
    }

    void shut(Duration time) {
      shutUntil.set(Math.max(1, System.nanoTime() + time.toNanos()));
    }
  }

  private final Catalogues catalogues;
  private final HealthMapper health;
  private final Clock clock;
  private final ConnectorEnvironment environment;
  private final Map<String, Open> open = new ConcurrentHashMap<>();
  private static final Executor ASKERS =
      task -> Thread.ofVirtual().name("health-asker").start(task);
  private final Set<String> asking = ConcurrentHashMap.newKeySet();
  private final Map<String, String> lastHealth = new ConcurrentHashMap<>();

  public Applications(
      Catalogues catalogues, HealthMapper health, Clock clock, ConnectorSettings settings) {
    this.catalogues = catalogues;
    this.health = health;
    this.clock = clock;
    environment = settings.environment();
  }

  public List<Application> all() {
    return catalogues.current().applications();
  }

  /** Whether work may be sent to the application at this moment. */
  public boolean open(Application application) {
    try {
      var opened = opened(application);
      var state = opened.breaker().getState();
      return !opened.isShut()
          && state != CircuitBreaker.State.OPEN
          && state != CircuitBreaker.State.FORCED_OPEN;
    } catch (Settings.BadSetting bad) {
      note(application.key(), false, String.valueOf(bad.getMessage()));
      return false;
    }
  }

  /**
   * Carries something out through the breaker, and takes note of the application's health.
   *
   * @throws DataAccessException if our own database went away meanwhile: nothing is known then
   */
  public Outcome through(Application application, Function<Connector, Outcome> work) {
    Open opened;
    try {
      opened = opened(application);
    } catch (Settings.BadSetting bad) {
      note(application.key(), false, String.valueOf(bad.getMessage()));
      return new Outcome.WrongSettings(String.valueOf(bad.getMessage()));
    }
    if (opened.isShut() || !opened.breaker().tryAcquirePermission()) {
      return new Outcome.Unreachable("waits until the application answers again");
    }
    var started = System.nanoTime();
    Outcome outcome;
    try {
      outcome = safely(() -> work.apply(opened.connector()));
    } catch (DataAccessException | TransactionException away) {
      opened.breaker().releasePermission();
      throw away;
    }
    var took = System.nanoTime() - started;
    switch (outcome) {
      case Outcome.Unreachable away -> {
        opened
            .breaker()
            .onError(took, TimeUnit.NANOSECONDS, new IllegalStateException(away.reason()));
        note(application.key(), false, away.reason());
      }
      case Outcome.NotNow notNow -> {
        opened.breaker().onSuccess(took, TimeUnit.NANOSECONDS);
        note(application.key(), false, notNow.reason());
      }
      case Outcome.WrongCredentials shut -> shut(opened, took, shut.reason());
      case Outcome.WrongSettings wrong -> shut(opened, took, wrong.reason());
      case Outcome.Unproven unproven -> well(opened, took);
      case Outcome.Gone gone -> well(opened, took);
      case Outcome.Confirmed c -> well(opened, took);
      case Outcome.Refused r -> well(opened, took);
    }
    return outcome;
  }

  private void shut(Open opened, long took, String reason) {
    opened.breaker().onSuccess(took, TimeUnit.NANOSECONDS);
    opened.shut(SHUT);
    note(opened.application().key(), false, reason);
  }

  private void well(Open opened, long took) {
    opened.breaker().onSuccess(took, TimeUnit.NANOSECONDS);
    note(opened.application().key(), true, "answers");
  }

  private static final Logger LOG = LoggerFactory.getLogger(Applications.class);

  /** Only what the connector itself does counts: our own database being away is no answer of it. */
  private static Outcome safely(Supplier<Outcome> work) {
    try {
      return work.get();
    } catch (DataAccessException | TransactionException away) {
      throw away;
    } catch (RuntimeException unexpected) {
      LOG.error("A connector failed", unexpected);
      return new Outcome.Refused(
          "The connector failed in a way it should not; the service's log says how.");
    }
  }

  private Open opened(Application application) {
    return open.compute(
        application.key(),
        (key, known) -> {
          if (known != null && known.application().equals(application)) {
            return known;
          }
          if (known != null) {
            known.connector().close();
          }
          return new Open(
              application,
              Connectors.open(application, environment),
              breaker(key),
              new AtomicLong());
        });
  }

  private static CircuitBreaker breaker(String key) {
    return CircuitBreaker.of(
        key,
        CircuitBreakerConfig.custom()
            .slidingWindowType(CircuitBreakerConfig.SlidingWindowType.COUNT_BASED)
            .slidingWindowSize(FAILURES * 2)
            .minimumNumberOfCalls(FAILURES)
            .failureRateThreshold(50)
            .waitDurationInOpenState(PAUSE)
            .permittedNumberOfCallsInHalfOpenState(PROBES)
            .automaticTransitionFromOpenToHalfOpenEnabled(true)
            .build());
  }

  /**
   * Writes health down when it turns, or the sentence does. Where it cannot be written just now,
   * the next to find it so writes it.
   */
  private void note(String key, boolean well, String sentence) {
    var shown =
        sentence.length() > LONGEST_SENTENCE ? sentence.substring(0, LONGEST_SENTENCE) : sentence;
    var state = (well ? "well" : "unwell") + shown;
    if (state.equals(lastHealth.get(key))) {
      return;
    }
    try {
      health.put(new HealthRow(key, well ? "well" : "unwell", shown, clock.instant()));
      lastHealth.put(key, state);
    } catch (DataAccessException away) {
      LOG.debug("The health of {} cannot be kept just now", key, away);
    }
  }

  /**
   * Begins to ask each application for something small; what recurs calls this. Each is asked on
   * its own, so that one that does not answer keeps neither the others nor the caller waiting.
   */
  public void checkHealth() {
    for (var application : all()) {
      if (asking.add(application.key())) {
        Thread.ofVirtual().name("health-" + application.key()).start(() -> ask(application));
      }
    }
  }

  private void ask(Application application) {
    var key = application.key();
    // Another service may have written something else since: what is found now counts.
    lastHealth.remove(key);
    try {
      var asked =
          CompletableFuture.supplyAsync(() -> opened(application).connector().test(), ASKERS);
      var found = asked.get(LONGEST_TEST.toMillis(), TimeUnit.MILLISECONDS);
      note(key, found.well(), found.well() ? "answers" : found.sentence());
    } catch (TimeoutException slow) {
      note(key, false, "does not answer the test within %d s".formatted(LONGEST_TEST.toSeconds()));
    } catch (ExecutionException failed) {
      noteFailed(key, failed.getCause());
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
    } finally {
      asking.remove(key);
    }
  }

  private void noteFailed(String key, @Nullable Throwable cause) {
    if (cause instanceof Settings.BadSetting bad) {
      note(key, false, String.valueOf(bad.getMessage()));
    } else {
      LOG.error("The test of {} failed", key, cause);
      note(key, false, "the test failed in a way it should not; the service's log says how");
    }
  }

  /** Those that are unwell, as far as the actor sees them, with how many operations wait there. */
  public List<Unwell> unwell(Reach reach) {
    var known =
        health.all().stream()
            .filter(row -> row.state().equals("unwell") && reach.covers(row.application()))
            .collect(Collectors.toMap(HealthRow::application, row -> row));
    return all().stream()
        .filter(application -> known.containsKey(application.key()))
        .map(application -> {
          var row = Objects.requireNonNull(known.get(application.key()));
          return new Unwell(
              application.key(),
              application.name(),
              row.sentence(),
              row.since(),
              health.waiting(application.key()));
        })
        .toList();
  }

  public List<Summary> list(Actor actor) {
    var reach = Authorization.applications(actor, Permission.SEE_APPLICATIONS);
    var known = health.all().stream().collect(Collectors.toMap(HealthRow::application, h -> h));
    var midnight =
        clock
            .instant()
            .atZone(catalogues.zone())
            .toLocalDate()
            .atStartOfDay(catalogues.zone())
            .toInstant();
    var loads =
        health.loads(midnight).stream().collect(Collectors.toMap(Load::application, l -> l));
    return all().stream()
        .filter(application -> reach.covers(application.key()))
        .map(application -> {
          var state = known.get(application.key());
          var load =
              loads.getOrDefault(application.key(), new Load(application.key(), 0, 0, 0, 0, 0));
          return new Summary(
              application.key(),
              application.name(),
              application.connector(),
              state == null ? "unknown" : state.state(),
              sentence(application, state),
              state == null ? null : state.since(),
              load.accounts(),
              load.enabled(),
              load.waiting(),
              load.faults(),
              load.confirmedToday());
        })
        .toList();
  }

  private static String sentence(Application application, @Nullable HealthRow state) {
    if (application.parallel() == 0) {
      return "held: its definition says parallel: 0";
    }
    return state == null ? "not asked yet" : state.sentence();
  }

  /** Tests one application and counts its accounts. */
  public TestResult test(String key, Actor actor) {
    Authorization.applications(actor, Permission.TEST_APPLICATIONS);
    var within = list(actor);
    var summary =
        within.stream()
            .filter(each -> each.key().equals(key))
            .findFirst()
            .orElseThrow(() ->
                Refused.notThere(
                    "There is no application %s; there are %s."
                        .formatted(
                            key,
                            within.stream().map(Summary::key).collect(Collectors.joining(", ")))));
    Authorization.need(actor, Permission.TEST_APPLICATIONS, Scope.application(key));
    var application = catalogues.current().application(key);
    try {
      var connector = opened(application).connector();
      var found = connector.test();
      note(key, found.well(), found.well() ? "answers" : found.sentence());
      var there = new AtomicInteger();
      var findings = new Connector.Findings(List.of(), List.of());
      if (found.well()) {
        findings = connector.examine(entitlements(key));
        connector.list(seen -> there.incrementAndGet());
      }
      return new TestResult(
          key,
          summary.name(),
          found.well() && findings.missing().isEmpty(),
          found.sentence(),
          there.get(),
          summary.accounts(),
          findings.abilities(),
          findings.missing());
    } catch (Settings.BadSetting | Connector.CannotRead bad) {
      return new TestResult(
          key,
          summary.name(),
          false,
          String.valueOf(bad.getMessage()),
          0,
          summary.accounts(),
          List.of(),
          List.of());
    }
  }

  private List<Entitlement> entitlements(String application) {
    return catalogues.current().entitlements().values().stream()
        .filter(each -> each.application().equals(application))
        .toList();
  }

  /**
   * What must be there before these definitions can be carried out, and is not: one sentence each.
   * Asks each application itself.
   */
  @Override
  public List<String> missing(Catalogue catalogue) {
    var missing = new ArrayList<String>();
    for (var application : catalogue.applications()) {
      try (var connector = Connectors.open(application, environment)) {
        var wanted =
            catalogue.entitlements().values().stream()
                .filter(each -> each.application().equals(application.key()))
                .toList();
        connector
            .examine(wanted)
            .missing()
            .forEach(each -> missing.add(application.key() + ": " + each));
      } catch (Settings.BadSetting | Connector.CannotRead bad) {
        missing.add(application.key() + ": " + bad.getMessage());
      }
    }
    return missing;
  }

  @Override
  public void close() {
    open.values().forEach(each -> each.connector().close());
  }

  @Override
  public RecurringJob recurring() {
    return new RecurringJob(
        "health",
        "asks each application for something small",
        Duration.ofSeconds(20),
        this::checkHealth);
  }
}
