package glenmoor.engine.provisioning;

import glenmoor.connect.applications.Connector.Target;
import glenmoor.core.applications.Application;
import glenmoor.core.provisioning.OperationState;
import glenmoor.core.provisioning.OperationState.Happening.Tried;
import glenmoor.core.provisioning.OperationState.Patience;
import glenmoor.core.provisioning.Outcome;
import glenmoor.engine.agenda.Clock;
import glenmoor.engine.agenda.Transactions;
import glenmoor.engine.applications.Applications;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.provisioning.OperationMapper.Taken;
import java.time.Duration;
import java.time.InstantSource;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Semaphore;
import java.util.concurrent.ThreadLocalRandom;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.Collectors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Carries operations out.
 *
 * <p>What is taken is a lane: all that waits for one account, in order, under a lease. Lanes run
 * side by side on virtual threads, as many at a time as the application's definition allows.
 * Results go to the {@link Recorder}, which writes many in one transaction. If this replica dies in
 * between, the lease runs out and another replica does the lane again, which changes nothing: every
 * order says how things shall be.
 */
public final class Couriers implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(Couriers.class);
  private static final Duration LEASE = Duration.ofSeconds(30);
  private static final Duration WORK_WITHIN_LEASE = Duration.ofSeconds(8);
  private static final Duration WAIT_WITHIN_LEASE = Duration.ofSeconds(12);
  private static final int LEASED_AHEAD = 16;
  private static final long LOOK_MILLIS = 250;

  /** The lanes of one application that are in hand, and the room for those that are worked on. */
  private record Post(int parallel, Semaphore room, AtomicInteger inHand) {
    Post(int parallel) {
      this(parallel, new Semaphore(parallel), new AtomicInteger());
    }

    /** The same post, or a new one once the definition gives another number. */
    Post with(int wanted) {
      return wanted == parallel ? this : new Post(wanted);
    }
  }

  private final String replica = UUID.randomUUID().toString().substring(0, 13);
  private final OperationMapper operations;
  private final Applications applications;
  private final Recorder recorder;
  private final Secrets secrets;
  private final Transactions transactions;
  private final Clock clock;
  private final Map<String, Post> posts = new ConcurrentHashMap<>();
  private final Semaphore bell = new Semaphore(0);
  private volatile boolean running;

  public Couriers(
      OperationMapper operations,
      Applications applications,
      Recorder recorder,
      Secrets secrets,
      Transactions transactions,
      Clock clock) {
    this.operations = operations;
    this.applications = applications;
    this.recorder = recorder;
    this.secrets = secrets;
    this.transactions = transactions;
    this.clock = clock;
  }

  /** Begins to look for work, and goes on until closed. */
  public void start() {
    running = true;
    recorder.start(this::ring);
    Thread.ofVirtual().name("couriers").start(this::look);
  }

  /** There may be work: look now, not at the next interval. */
  public void ring() {
    if (bell.availablePermits() == 0) {
      bell.release();
    }
  }

  private void look() {
    while (running) {
      try {
        var took = 0;
        for (var application : applications.all()) {
          took += take(application);
        }
        if (took == 0) {
          var rung = bell.tryAcquire(LOOK_MILLIS, TimeUnit.MILLISECONDS);
          LOG.trace("looked; rung {}", rung);
          bell.drainPermits();
        }
      } catch (InterruptedException stopped) {
        Thread.currentThread().interrupt();
        return;
      } catch (RuntimeException failed) {
        LOG.warn("Couriers cannot look for work, and will look again: {}", failed.getMessage());
        rest();
      }
    }
  }

  private static void rest() {
    try {
      Thread.sleep(Duration.ofSeconds(1));
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
    }
  }

  /**
   * Leases lanes ahead of the room there is, many in one transaction: else each lane would cost a
   * commit of its own. What waits too long for room is given back undone.
   */
  private int take(Application application) {
    var parallel = application.parallel();
    var post =
        posts.compute(
            application.key(),
            (key, known) -> known == null ? new Post(parallel) : known.with(parallel));
    var enough = parallel * LEASED_AHEAD;
    var inHand = post.inHand().get();
    if (parallel == 0 || inHand > enough / 2 || !applications.open(application)) {
      return 0;
    }
    var leasedAt = System.nanoTime();
    var taken = transactions.run(() -> lease(application.key(), enough - inHand));
    for (var lane : taken) {
      post.inHand().incrementAndGet();
      Thread.ofVirtual()
          .name("courier-" + application.key())
          .start(() -> work(application, post, lane, leasedAt));
    }
    return taken.size();
  }

  private void work(Application application, Post post, List<Taken> lane, long leasedAt) {
    post.room().acquireUninterruptibly();
    try {
      if (System.nanoTime() - leasedAt > WAIT_WITHIN_LEASE.toNanos()) {
        recorder.record(new Recorder.LaneResult(lane.getFirst().accountId(), replica, List.of()));
      } else {
        carry(application, lane);
      }
    } finally {
      post.room().release();
      if (post.inHand().decrementAndGet() <= post.parallel() * LEASED_AHEAD / 2) {
        ring();
      }
    }
  }

  private List<List<Taken>> lease(String application, int most) {
    var leaseNow = InstantSource.system().instant();
    var accounts = operations.takeableLanes(application, clock.instant(), leaseNow, most);
    if (accounts.isEmpty()) {
      return List.of();
    }
    operations.lease(accounts, replica, leaseNow.plus(LEASE));
    var lanes =
        operations.waiting(accounts).stream().collect(Collectors.groupingBy(Taken::accountId));
    var empty = accounts.stream().filter(account -> !lanes.containsKey(account)).toList();
    if (!empty.isEmpty()) {
      operations.release(empty, replica);
    }
    return List.copyOf(lanes.values());
  }

  private void carry(Application application, List<Taken> lane) {
    var until = System.nanoTime() + WORK_WITHIN_LEASE.toNanos();
    var results = new ArrayList<Recorder.Result>();
    var nativeId = nativeId(lane);
    for (var operation : lane) {
      var result = tried(application, operation, nativeId);
      results.add(result);
      if (result.outcome() instanceof Outcome.Confirmed confirmed) {
        nativeId = confirmed.nativeId().isEmpty() ? nativeId : confirmed.nativeId();
      }
      var goesOn =
          switch (result.state()) {
            case OperationState.Confirmed c -> true;
            case OperationState.Fault f -> !result.order().opensLane();
            case OperationState.Waiting w -> false;
            case OperationState.ByHand b -> true;
            case OperationState.GivenUp g -> true;
          };
      if (!goesOn || System.nanoTime() > until) {
        break;
      }
    }
    recorder.record(new Recorder.LaneResult(lane.getFirst().accountId(), replica, results));
  }

  private Recorder.Result tried(Application application, Taken operation, String nativeId) {
    var order = OrderJson.read(operation.kind(), operation.payload());
    var sentAt = clock.instant();
    var target =
        new Target(
            operation.workerNumber(),
            operation.accountName(),
            operation.container(),
            nativeId,
            operation.attempts() > 0 || operation.sentAt() != null);
    var outcome =
        applications.through(
            application, connector -> connector.carryOut(order, target, secrets::open));
    var happening = new Tried(outcome, clock.instant(), ThreadLocalRandom.current().nextDouble());
    var before = new OperationState.Waiting(operation.attempts(), sentAt, operation.reason());
    return new Recorder.Result(
        operation, order, outcome, before.after(happening, Patience.USUAL), sentAt);
  }

  /** The application's own identity of the account; a lane that makes it anew learns it then. */
  private static String nativeId(List<Taken> lane) {
    var remade = lane.stream().anyMatch(each -> each.kind().equals("create"));
    return remade ? "" : lane.getFirst().nativeId();
  }

  @Override
  public void close() {
    running = false;
    ring();
    recorder.close();
  }
}
