package glenmoor.engine.requests;

import glenmoor.core.requests.Move;
import glenmoor.engine.agenda.FallsDue;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.requests.RequestMapper;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Moves lines whose clock has something to do, and those around which the world has changed: an
 * approver who left or is away, another manager, other duties. Each line in a transaction of its
 * own; one that cannot be moved keeps none of the others.
 */
@Named
final class LinesDue implements RecurringJob.Owner, FallsDue {
  private static final Logger LOG = LoggerFactory.getLogger(LinesDue.class);
  private static final Duration LOOK = Duration.ofSeconds(2);
  private static final int BATCH = 200;

  /** After this long a line that failed is tried again. */
  private static final Duration AGAIN = Duration.ofMinutes(1);

  /** When lines failed, by the system's nanosecond clock. */
  private final Map<Long, Long> failed = new ConcurrentHashMap<>();

  private final RequestMapper requests;
  private final LineMoves moves;
  private final LineEffects effects;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Clock clock;

  LinesDue(
      RequestMapper requests,
      LineMoves moves,
      LineEffects effects,
      Catalogues catalogues,
      Transactions transactions,
      Clock clock) {
    this.requests = requests;
    this.moves = moves;
    this.effects = effects;
    this.catalogues = catalogues;
    this.transactions = transactions;
    this.clock = clock;
  }

  @Override
  public List<RecurringJob> recurring() {
    return List.of(
        new RecurringJob(
            "requests",
            "reminds approvers, has requests lapse, and replaces whoever has left or is away",
            LOOK,
            this::carryOut));
  }

  @Override
  public @Nullable Instant next() {
    return requests.nextDue();
  }

  @Override
  public boolean busy() {
    var next = requests.nextDue();
    return next != null && !next.isAfter(clock.instant());
  }

  @Override
  public int carryOut() {
    var now = clock.instant();
    var catalogue = catalogues.current();
    var today = now.atZone(catalogue.zone()).toLocalDate();
    var failed = failedLately();
    return (int)
        Stream.concat(
                requests.due(now, failed, BATCH).stream(),
                requests.stale(today, catalogue.revision(), failed, BATCH).stream())
            .distinct()
            .filter(this::look)
            .count();
  }

  /** Lines that failed are left out for a while, so that they keep no others from their turn. */
  private Set<Long> failedLately() {
    var before = System.nanoTime() - AGAIN.toNanos();
    failed.values().removeIf(at -> at - before < 0);
    return Set.copyOf(failed.keySet());
  }

  private boolean look(long line) {
    try {
      return transactions.run(() -> {
        var loaded = moves.lock(line);
        if (!loaded.run().open()) {
          return false;
        }
        Optional<String> impossible =
            effects.impossible(loaded, catalogues.current(), clock.instant());
        moves.make(
            loaded,
            impossible.<Move>map(Move.Drop::new).orElseGet(Move.Look::new),
            List.of(),
            Mover.CLOCK);
        return true;
      });
    } catch (RuntimeException away) {
      LOG.warn("The line {} of a request cannot be moved on", line, away);
      failed.put(line, System.nanoTime());
      return false;
    }
  }
}
