package glenmoor.engine.applications;

import glenmoor.connect.applications.Connector;
import glenmoor.connect.applications.Connectors;
import glenmoor.connect.applications.Settings;
import glenmoor.core.applications.Application;
import glenmoor.core.provisioning.Outcome;
import glenmoor.engine.Refused;
import glenmoor.engine.agenda.Clock;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.people.Actor;
import glenmoor.engine.people.Allow;
import glenmoor.store.applications.HealthMapper;
import glenmoor.store.applications.HealthMapper.HealthRow;
import glenmoor.store.applications.HealthMapper.Load;
import io.github.resilience4j.circuitbreaker.CircuitBreaker;
import io.github.resilience4j.circuitbreaker.CircuitBreakerConfig;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.Function;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * The applications there are: an open connector for each, a breaker before it, and its health.
 *
 * <p>After repeated failures to reach an application its breaker opens: for some seconds nothing is
 * sent, then a few operations try again. The queue waits meanwhile, and loses nothing.
 */
public final class Applications implements AutoCloseable {
  private static final int FAILURES = 4;
  private static final Duration PAUSE = Duration.ofSeconds(3);
  private static final int PROBES = 2;

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

  /** What a test of an application showed. */
  public record TestResult(
      String key,
      String name,
      boolean well,
      String sentence,
      int accountsThere,
      int accountsKnown) {}

  private record Open(Application application, Connector connector, CircuitBreaker breaker) {}

  private final Catalogues catalogues;
  private final HealthMapper health;
  private final Clock clock;
  private final Function<String, Optional<String>> environment;
  private final Map<String, Open> open = new ConcurrentHashMap<>();
  private final Map<String, String> lastHealth = new ConcurrentHashMap<>();

  public Applications(
      Catalogues catalogues,
      HealthMapper health,
      Clock clock,
      Function<String, Optional<String>> environment) {
    this.catalogues = catalogues;
    this.health = health;
    this.clock = clock;
    this.environment = environment;
  }

  public List<Application> all() {
    return catalogues.current().applications();
  }

  /** Whether work may be sent to the application at this moment. */
  public boolean open(Application application) {
    try {
      var state = opened(application).breaker().getState();
      return state != CircuitBreaker.State.OPEN && state != CircuitBreaker.State.FORCED_OPEN;
    } catch (Settings.BadSetting bad) {
      note(application.key(), false, String.valueOf(bad.getMessage()));
      return false;
    }
  }

  /** Carries something out through the breaker, and takes note of the application's health. */
  public Outcome through(Application application, Function<Connector, Outcome> work) {
    var opened = opened(application);
    if (!opened.breaker().tryAcquirePermission()) {
      return new Outcome.Unreachable("waits until the application answers again");
    }
    var started = System.nanoTime();
    var outcome = safely(() -> work.apply(opened.connector()));
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
      case Outcome.Confirmed c -> well(opened, took);
      case Outcome.Refused r -> well(opened, took);
    }
    return outcome;
  }

  private void well(Open opened, long took) {
    opened.breaker().onSuccess(took, TimeUnit.NANOSECONDS);
    note(opened.application().key(), true, "answers");
  }

  private static Outcome safely(Supplier<Outcome> work) {
    try {
      return work.get();
    } catch (RuntimeException unexpected) {
      return new Outcome.Refused("The connector failed: " + unexpected);
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
          return new Open(application, Connectors.open(application, environment), breaker(key));
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

  /** Writes health down only when it turns, or the sentence does. */
  private void note(String key, boolean well, String sentence) {
    var state = (well ? "well" : "unwell") + sentence;
    if (!state.equals(lastHealth.put(key, state))) {
      health.put(new HealthRow(key, well ? "well" : "unwell", sentence, clock.instant()));
    }
  }

  /** Asks each application for something small; what recurs calls this. */
  public void checkHealth() {
    for (var application : all()) {
      try {
        var found = opened(application).connector().test();
        note(application.key(), found.well(), found.well() ? "answers" : found.sentence());
      } catch (Settings.BadSetting bad) {
        note(application.key(), false, String.valueOf(bad.getMessage()));
      }
    }
  }

  public List<Summary> list(Actor actor) {
    Allow.seeingApplications(actor);
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
    var summary =
        list(actor).stream()
            .filter(each -> each.key().equals(key))
            .findFirst()
            .orElseThrow(() ->
                Refused.notThere(
                    "There is no application %s; there are %s."
                        .formatted(
                            key,
                            all().stream()
                                .map(Application::key)
                                .collect(Collectors.joining(", ")))));
    var application = catalogues.current().application(key);
    try {
      var connector = opened(application).connector();
      var found = connector.test();
      note(key, found.well(), found.well() ? "answers" : found.sentence());
      var there = new AtomicInteger();
      if (found.well()) {
        connector.list(seen -> there.incrementAndGet());
      }
      return new TestResult(
          key, summary.name(), found.well(), found.sentence(), there.get(), summary.accounts());
    } catch (Settings.BadSetting | Connector.CannotRead bad) {
      return new TestResult(
          key, summary.name(), false, String.valueOf(bad.getMessage()), 0, summary.accounts());
    }
  }

  @Override
  public void close() {
    open.values().forEach(each -> each.connector().close());
  }
}
