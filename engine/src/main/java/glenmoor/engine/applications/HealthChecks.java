package glenmoor.engine.applications;

import glenmoor.connect.applications.Settings;
import glenmoor.core.applications.Application;
import glenmoor.core.authorization.Reach;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.store.applications.HealthMapper;
import glenmoor.store.applications.HealthMapper.HealthRow;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.Executor;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Asks each application again and again for something small, and tells which are unwell. */
@Named
public final class HealthChecks implements RecurringJob.Owner {
  private static final Logger LOG = LoggerFactory.getLogger(HealthChecks.class);
  private static final Duration LONGEST_TEST = Duration.ofSeconds(15);
  private static final Executor ASKERS =
      task -> Thread.ofVirtual().name("health-asker").start(task);

  /** An application that does not work as it should. */
  public record Unwell(
      String key, String name, String sentence, @Nullable Instant since, int waiting) {}

  private final Connections connections;
  private final HealthNotes notes;
  private final HealthMapper health;
  private final Set<String> asking = ConcurrentHashMap.newKeySet();

  public HealthChecks(Connections connections, HealthNotes notes, HealthMapper health) {
    this.connections = connections;
    this.notes = notes;
    this.health = health;
  }

  /**
   * Begins to ask each application for something small; what recurs calls this. Each is asked on
   * its own, so that one that does not answer keeps neither the others nor the caller waiting.
   */
  public void begin() {
    for (var application : connections.all()) {
      // Whoever maintains it may have shut it down: that is no news.
      if (connections.closedUntil(application).isEmpty() && asking.add(application.key())) {
        Thread.ofVirtual().name("health-" + application.key()).start(() -> ask(application));
      }
    }
  }

  private void ask(Application application) {
    var key = application.key();
    notes.lookAgain(key);
    try {
      var asked =
          CompletableFuture.supplyAsync(() -> connections.connector(application).test(), ASKERS);
      var found = asked.get(LONGEST_TEST.toMillis(), TimeUnit.MILLISECONDS);
      notes.note(key, found.well(), found.well() ? "answers" : found.sentence());
    } catch (TimeoutException slow) {
      notes.note(
          key, false, "does not answer the test within %d s".formatted(LONGEST_TEST.toSeconds()));
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
      notes.note(key, false, String.valueOf(bad.getMessage()));
    } else {
      LOG.error("The test of {} failed", key, cause);
      notes.note(key, false, "the test failed in a way it should not; the service's log says how");
    }
  }

  /** Those that are unwell, as far as the actor sees them, with how many operations wait there. */
  public List<Unwell> unwell(Reach reach) {
    var known =
        health.all().stream()
            .filter(row -> row.state().equals("unwell") && reach.covers(row.application()))
            .collect(Collectors.toMap(HealthRow::application, row -> row));
    return connections.all().stream()
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

  @Override
  public List<RecurringJob> recurring() {
    return List.of(
        new RecurringJob(
            "health",
            "asks each application for something small",
            Duration.ofSeconds(20),
            this::begin));
  }
}
