package glenmoor.engine.applications;

import glenmoor.connect.applications.Connector;
import glenmoor.connect.applications.ConnectorEnvironment;
import glenmoor.connect.applications.Connectors;
import glenmoor.connect.applications.Settings;
import glenmoor.core.applications.Application;
import glenmoor.core.provisioning.Outcome;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.installation.InstallationState;
import glenmoor.engine.time.Clock;
import io.github.resilience4j.circuitbreaker.CircuitBreaker;
import io.github.resilience4j.circuitbreaker.CircuitBreakerConfig;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.Supplier;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DataAccessException;
import org.springframework.transaction.TransactionException;

/**
 * The way to each application: an open connector, and a breaker before it.
 *
 * <p>After repeated failures to reach an application its breaker opens: for some seconds nothing is
 * sent, then a few operations try again. The queue waits meanwhile, and loses nothing.
 */
@Named
public final class Connections implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(Connections.class);
  private static final int FAILURES = 4;
  private static final Duration PAUSE = Duration.ofSeconds(3);
  private static final int PROBES = 2;

  /** A door that does not let Glenmoor in is not knocked at all the time: it may lock for good. */
  private static final Duration SHUT = Duration.ofSeconds(30);

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
  private final HealthNotes notes;
  private final ConnectorEnvironment environment;
  private final InstallationState installation;
  private final Clock clock;
  private final Map<String, Open> open = new ConcurrentHashMap<>();

  public Connections(
      Catalogues catalogues,
      HealthNotes notes,
      ConnectorSettings settings,
      InstallationState installation,
      Clock clock) {
    this.catalogues = catalogues;
    this.installation = installation;
    this.notes = notes;
    this.clock = clock;
    environment = settings.environment();
  }

  /** The applications there are, in the order in which their accounts are planned. */
  public List<Application> all() {
    return catalogues.current().applications();
  }

  /**
   * The open connector of an application.
   *
   * @throws Settings.BadSetting if a setting is missing or wrong
   */
  Connector connector(Application application) {
    return opened(application).connector();
  }

  /**
   * A connector for an application that is not in force yet; whoever asks for it closes it.
   *
   * @throws Settings.BadSetting if a setting is missing or wrong
   */
  Connector trying(Application application) {
    return Connectors.open(application, environment);
  }

  /** Until when an application is maintained, so that nothing is sent to it; or nothing. */
  public Optional<Instant> closedUntil(Application application) {
    return application.closedUntil(clock.instant(), catalogues.zone());
  }

  /**
   * Those to which nothing is sent at this moment, because their definitions say so, or all, while
   * this installation is quiet.
   */
  public List<String> closed() {
    var quiet = installation.quiet();
    return all().stream()
        .filter(each -> quiet || each.parallel() == 0 || closedUntil(each).isPresent())
        .map(Application::key)
        .toList();
  }

  /** Whether work may be sent to the application at this moment. */
  public boolean open(Application application) {
    if (closedUntil(application).isPresent() || installation.quiet()) {
      return false;
    }
    try {
      var opened = opened(application);
      var state = opened.breaker().getState();
      return !opened.isShut()
          && state != CircuitBreaker.State.OPEN
          && state != CircuitBreaker.State.FORCED_OPEN;
    } catch (Settings.BadSetting bad) {
      notes.note(application.key(), false, String.valueOf(bad.getMessage()));
      return false;
    }
  }

  /**
   * Carries something out through the breaker, and takes note of the application's health.
   *
   * @throws DataAccessException if our own database went away meanwhile: nothing is known then
   */
  public Outcome through(Application application, Function<Connector, Outcome> work) {
    if (installation.quiet()) {
      return new Outcome.Unreachable("waits until this installation is released");
    }
    Open opened;
    try {
      opened = opened(application);
    } catch (Settings.BadSetting bad) {
      notes.note(application.key(), false, String.valueOf(bad.getMessage()));
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
        notes.note(application.key(), false, away.reason());
      }
      case Outcome.NotNow notNow -> {
        opened.breaker().onSuccess(took, TimeUnit.NANOSECONDS);
        notes.note(application.key(), false, notNow.reason());
      }
      case Outcome.WrongCredentials shut -> shut(opened, took, shut.reason());
      case Outcome.WrongSettings wrong -> shut(opened, took, wrong.reason());
      case Outcome.Unproven unproven -> well(opened, took);
      case Outcome.Gone gone -> well(opened, took);
      case Outcome.Confirmed c -> well(opened, took);
      case Outcome.ForSomebody s -> well(opened, took);
      case Outcome.Pending p -> opened.breaker().onSuccess(took, TimeUnit.NANOSECONDS);
      case Outcome.Refused r -> well(opened, took);
    }
    return outcome;
  }

  private void shut(Open opened, long took, String reason) {
    opened.breaker().onSuccess(took, TimeUnit.NANOSECONDS);
    opened.shut(SHUT);
    notes.note(opened.application().key(), false, reason);
  }

  private void well(Open opened, long took) {
    opened.breaker().onSuccess(took, TimeUnit.NANOSECONDS);
    notes.note(opened.application().key(), true, "answers");
  }

  /**
   * Lets somebody read an application, and takes note of its health.
   *
   * @throws Refused if it does not answer, or cannot be reached as it is defined
   */
  public void reading(Application application, Consumer<Connector> work) {
    here(application, work);
    notes.note(application.key(), true, "answers");
  }

  /**
   * Lets somebody work with what lies here for an application: that it can be read tells nothing of
   * how the application itself is.
   *
   * @throws Refused if it cannot be read or written, or not as it is defined
   */
  public void here(Application application, Consumer<Connector> work) {
    try {
      work.accept(opened(application).connector());
    } catch (Settings.BadSetting | Connector.CannotRead failed) {
      var sentence = String.valueOf(failed.getMessage());
      notes.note(application.key(), false, sentence);
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "%s could not be read: %s".formatted(application.name(), sentence));
    }
  }

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
    var last = open.get(application.key());
    return last != null && last.application() == application ? last : openedAnew(application);
  }

  private Open openedAnew(Application application) {
    return open.compute(
        application.key(),
        (key, known) -> {
          if (known != null && known.application().equals(application)) {
            return new Open(application, known.connector(), known.breaker(), known.shutUntil());
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

  @Override
  public void close() {
    open.values().forEach(each -> each.connector().close());
  }
}
