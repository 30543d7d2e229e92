package glenmoor.engine.provisioning;

import glenmoor.connect.applications.Connector;
import glenmoor.connect.applications.Connector.Target;
import glenmoor.core.applications.Application;
import glenmoor.core.provisioning.OperationState;
import glenmoor.core.provisioning.OperationState.RetryPolicy;
import glenmoor.core.provisioning.OperationState.Transition.Tried;
import glenmoor.core.provisioning.Outcome;
import glenmoor.core.provisioning.ProvisioningCommand;
import glenmoor.engine.applications.Connections;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.WriteSignal;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.provisioning.OperationMapper.Taken;
import glenmoor.store.provisioning.WorkerReplicaMapper;
import jakarta.inject.Inject;
import jakarta.inject.Named;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Semaphore;
import java.util.concurrent.ThreadLocalRandom;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Carries operations out.
 *
 * <p>What is taken is a lane: all that waits for one account, in order, under a lease. Lanes run
 * side by side on virtual threads, as many at a time as the application's definition allows.
 * Results go to the {@link ResultWriter}, which writes many in one transaction. A lease has a
 * token, is renewed while work goes on, and runs out by the database's time when this replica dies;
 * another replica does the lane again then, which changes nothing: every order says how things
 * shall be. What an old lease comes to afterwards is not written.
 */
@Named
public final class OperationWorkers implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(OperationWorkers.class);

  /**
   * How long what may take.
   *
   * @param lease longer than the longest call, and renewed while work goes on
   * @param renewed how often leases are renewed, and lanes are looked at
   * @param work after so long no further operation of a lane is begun
   * @param roomWait a lane that waits longer for room is given back undone
   * @param stuck a lane that takes longer is stopped, and left to another worker
   */
  record Pace(Duration lease, Duration renewed, Duration work, Duration roomWait, Duration stuck) {
    static final Pace USUAL =
        new Pace(
            Duration.ofSeconds(30),
            Duration.ofSeconds(8),
            Duration.ofSeconds(20),
            Duration.ofSeconds(12),
            Duration.ofMinutes(3));
  }

  private static final long LOOK_MILLIS = 250;

  /**
   * So many looks are left out at the most while nothing is written: what is due by time comes a
   * second late.
   */
  private static final int LOOKS_LEFT_OUT = 3;

  private final String replica = UUID.randomUUID().toString().substring(0, 13);
  private final OperationMapper operations;
  private final AccountMapper accounts;
  private final Connections connections;
  private final ResultWriter resultWriter;
  private final Secrets secrets;
  private final Transactions transactions;
  private final Clock clock;
  private final WriteSignal writes;
  private final Pace pace;
  private final WorkerShares shares;
  private final Map<String, LanesInHand> inHand = new ConcurrentHashMap<>();
  private final Map<Long, Hand> hands = new ConcurrentHashMap<>();

  /** A lane in hand: its lease, and who works on it since when. */
  private static final class Hand {
    private final long token;
    private volatile @Nullable Thread worker;
    private volatile long workedSince;
    private volatile boolean stopped;

    Hand(long token) {
      this.token = token;
    }

    boolean isStuck(Duration stuck) {
      return worker != null && System.nanoTime() - workedSince > stuck.toNanos();
    }
  }

  private final Semaphore wakeUps = new Semaphore(0);
  private volatile boolean running;

  @Inject
  public OperationWorkers(
      OperationMapper operations,
      AccountMapper accounts,
      Connections connections,
      ResultWriter resultWriter,
      Secrets secrets,
      Transactions transactions,
      Clock clock,
      WriteSignal writes,
      WorkerReplicaMapper replicas) {
    this(
        operations,
        accounts,
        connections,
        resultWriter,
        secrets,
        transactions,
        clock,
        writes,
        replicas,
        Pace.USUAL);
  }

  OperationWorkers(
      OperationMapper operations,
      AccountMapper accounts,
      Connections connections,
      ResultWriter resultWriter,
      Secrets secrets,
      Transactions transactions,
      Clock clock,
      WriteSignal writes,
      WorkerReplicaMapper replicas,
      Pace pace) {
    shares = new WorkerShares(replicas, replica, pace.renewed().multipliedBy(3));
    this.operations = operations;
    this.accounts = accounts;
    this.connections = connections;
    this.resultWriter = resultWriter;
    this.secrets = secrets;
    this.transactions = transactions;
    this.clock = clock;
    this.writes = writes;
    this.pace = pace;
  }

  /** Begins to look for work, and goes on until closed. */
  public void start() {
    running = true;
    lookForOthers();
    resultWriter.start(this::done);
    Thread.ofVirtual().name("operation-workers").start(this::look);
    Thread.ofVirtual().name("operation-workers-leases").start(this::keepLeases);
  }

  /** Renews what is in hand, and stops what is stuck. */
  private void keepLeases() {
    while (running) {
      try {
        Thread.sleep(pace.renewed());
        if (!running) {
          return;
        }
        lookForOthers();
        hands.forEach((account, hand) -> {
          var worker = hand.worker;
          if (hand.isStuck(pace.stuck()) && worker != null) {
            LOG.warn("Lane {} is stuck and is stopped; another worker will take it", account);
            hands.remove(account, hand);
            hand.stopped = true;
            worker.interrupt();
          }
        });
        if (!hands.isEmpty()) {
          var tokens = hands.values().stream().map(hand -> hand.token).distinct().toList();
          operations.renew(List.copyOf(hands.keySet()), tokens, pace.lease().toSeconds());
        }
      } catch (InterruptedException stopped) {
        Thread.currentThread().interrupt();
        return;
      } catch (RuntimeException away) {
        LOG.debug("Leases cannot be renewed just now", away);
      }
    }
  }

  /** How many lanes are in hand here, or wait for their results to be written. */
  public int inHand() {
    return hands.size();
  }

  /** There may be work: look now, not at the next interval. */
  public void wake() {
    if (wakeUps.availablePermits() == 0) {
      wakeUps.release();
    }
  }

  private void lookForOthers() {
    try {
      shares.look();
    } catch (RuntimeException away) {
      LOG.debug("Who else is at work cannot be told just now", away);
    }
  }

  private void look() {
    if (shares.others() && !waited(pace.renewed())) {
      return;
    }
    while (running) {
      try {
        var took = 0;
        var written = writes.count();
        var due = operations.applicationsDue(clock.instant());
        if (!due.isEmpty()) {
          for (var application : connections.all()) {
            took += due.contains(application.key()) ? take(application) : 0;
          }
        }
        if (took == 0) {
          rest(written);
        }
      } catch (InterruptedException stopped) {
        Thread.currentThread().interrupt();
        return;
      } catch (RuntimeException failed) {
        LOG.warn(
            "Operation workers cannot look for work, and will look again: {}", failed.getMessage());
        waited(Duration.ofSeconds(1));
      }
    }
  }

  /**
   * Until somebody wakes the workers, or the next look. A look is left out where nothing was
   * written since the last one began: only time can have brought work then, or another replica,
   * which does it itself.
   */
  private void rest(long written) throws InterruptedException {
    var leftOut = 0;
    while (!wakeUps.tryAcquire(LOOK_MILLIS, TimeUnit.MILLISECONDS)
        && writes.count() == written
        && leftOut < LOOKS_LEFT_OUT) {
      leftOut++;
    }
    wakeUps.drainPermits();
  }

  private static boolean waited(Duration time) {
    try {
      Thread.sleep(time);
      return true;
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
      return false;
    }
  }

  /**
   * Leases lanes ahead of the room there is, many in one transaction: else each lane would cost a
   * commit of its own. What waits too long for room is given back undone.
   */
  private int take(Application application) {
    var parallel = shares.of(application.parallel(), application.key());
    var lanes = inHand.computeIfAbsent(application.key(), key -> new LanesInHand()).with(parallel);
    var most = lanes.missing();
    if (most == 0 || resultWriter.isBehind() || !connections.open(application)) {
      return 0;
    }
    var leasedAt = System.nanoTime();
    var token = ThreadLocalRandom.current().nextLong(Long.MAX_VALUE);
    var taken = transactions.run(() -> lease(application.key(), most, token));
    for (var lane : taken) {
      lanes.taken();
      hands.put(lane.getFirst().accountId(), new Hand(token));
      Thread.ofVirtual()
          .name("operation-worker-" + application.key())
          .start(() -> work(application, lanes, lane, leasedAt, token));
    }
    return taken.size();
  }

  private void work(
      Application application, LanesInHand lanes, List<Taken> lane, long leasedAt, long token) {
    var account = lane.getFirst().accountId();
    var room = false;
    try {
      room = room(lanes, leasedAt);
      var hand = hands.get(account);
      if (hand == null || !room) {
        resultWriter.record(new ResultWriter.LaneResult(account, token, List.of()));
      } else {
        hand.workedSince = System.nanoTime();
        hand.worker = Thread.currentThread();
        carry(application, lanes, lane, hand);
      }
    } catch (RuntimeException failed) {
      // Nothing is known of what was tried: the lease runs out, and the lane is done again.
      LOG.warn("Lane {} is left until its lease runs out", account, failed);
      hands.computeIfPresent(account, (key, hand) -> hand.token == token ? null : hand);
    } finally {
      if (room) {
        lanes.giveRoom();
      }
      lanes.left();
      if (lanes.missing() > 0) {
        wake();
      }
    }
  }

  /** Waits for room, but not for long: others may have it. */
  private boolean room(LanesInHand lanes, long leasedAt) {
    var left = pace.roomWait().toNanos() - (System.nanoTime() - leasedAt);
    try {
      return lanes.takeRoom(left);
    } catch (InterruptedException stopped) {
      LOG.debug("Stopped while waiting for room");
      return false;
    }
  }

  /** A lane is in nobody's hand here any more: its results are written. */
  private void done(Collection<ResultWriter.LaneResult> lanes) {
    for (var lane : lanes) {
      hands.computeIfPresent(
          lane.account(), (account, hand) -> hand.token == lane.token() ? null : hand);
    }
    wake();
  }

  private List<List<Taken>> lease(String application, int most, long token) {
    var accounts = operations.takeableLanes(application, clock.instant(), most);
    if (accounts.isEmpty()) {
      return List.of();
    }
    operations.lease(accounts, replica, token, pace.lease().toSeconds());
    var lanes =
        operations.waiting(accounts).stream().collect(Collectors.groupingBy(Taken::accountId));
    var empty = accounts.stream().filter(account -> !lanes.containsKey(account)).toList();
    if (!empty.isEmpty()) {
      operations.release(empty, List.of(token));
    }
    return List.copyOf(lanes.values());
  }

  private void carry(Application application, LanesInHand lanes, List<Taken> lane, Hand hand) {
    var until = System.nanoTime() + pace.work().toNanos();
    var results = new ArrayList<ResultWriter.Result>();
    var nativeId = nativeId(lane);
    var seen = false;
    var owners = new Asked(application.key(), lane.getFirst().accountId());
    for (var operation : lane) {
      var result = tried(application, operation, nativeId, seen, owners);
      results.add(result);
      if (result.outcome() instanceof Outcome.Confirmed confirmed) {
        nativeId = confirmed.nativeId().isEmpty() ? nativeId : confirmed.nativeId();
        seen = !confirmed.nativeId().isEmpty();
      }
      var goesOn =
          switch (result.state()) {
            case OperationState.Confirmed c -> !(result.outcome() instanceof Outcome.Gone);
            case OperationState.Fault f -> !result.command().opensLane();
            // People see all that is to be done at once, and do it in the order they like.
            case OperationState.Task t -> true;
            case OperationState.Waiting w -> false;
            case OperationState.Superseded s -> false;
            case OperationState.ByHand b -> true;
            case OperationState.GivenUp g -> true;
          };
      if (!goesOn || System.nanoTime() > until || hand.stopped) {
        break;
      }
    }
    if (results.getLast().outcome() instanceof Outcome.Unreachable) {
      lanes.isAway();
    } else {
      lanes.took(System.nanoTime() - hand.workedSince);
    }
    resultWriter.record(
        new ResultWriter.LaneResult(lane.getFirst().accountId(), hand.token, results));
  }

  /** Whose a native id is, asked once for each. */
  private final class Asked implements Connector.Owners {
    private final String application;
    private final long account;
    private final Map<String, Boolean> answers = new HashMap<>();

    Asked(String application, long account) {
      this.application = application;
      this.account = account;
    }

    @Override
    public boolean isOthers(String nativeId) {
      return answers.computeIfAbsent(
          nativeId,
          id -> {
            var owner = accounts.ownerOf(application, id);
            return owner != null && owner != account;
          });
    }
  }

  private ResultWriter.Result tried(
      Application application,
      Taken operation,
      String nativeId,
      boolean justSeen,
      Connector.Owners owners) {
    var command = CommandJson.read(operation.kind(), operation.payload());
    var sentAt = clock.instant();
    var target =
        new Target(
            operation.workerNumber(),
            operation.accountName(),
            operation.seenName(),
            operation.seenContainer(),
            nativeId,
            operation.attempts() > 0 || operation.sentAt() != null,
            justSeen,
            operation.sentAt(),
            owners);
    var outcome =
        connections.through(application, connector -> uninterrupted(connector, command, target));
    var transition =
        new Tried(command, outcome, clock.instant(), ThreadLocalRandom.current().nextDouble());
    var before = new OperationState.Waiting(operation.attempts(), sentAt, operation.reason());
    return new ResultWriter.Result(
        operation, command, outcome, before.after(transition, RetryPolicy.USUAL), sentAt);
  }

  /** A worker that was stopped still has to write down what it came to. */
  private Outcome uninterrupted(Connector connector, ProvisioningCommand command, Target target) {
    try {
      return connector.carryOut(command, target, secrets::open);
    } finally {
      var stopped = Thread.interrupted();
      LOG.trace("stopped while it was carried out: {}", stopped);
    }
  }

  /** The application's own identity of the account; a lane that makes it anew learns it then. */
  private static String nativeId(List<Taken> lane) {
    var remade = lane.stream().anyMatch(each -> each.kind().equals("create"));
    return remade ? "" : Objects.requireNonNullElse(lane.getFirst().nativeId(), "");
  }

  @Override
  public void close() {
    running = false;
    wake();
    resultWriter.close();
    try {
      shares.leave();
    } catch (RuntimeException away) {
      LOG.debug("The others will miss these workers after a while", away);
    }
  }
}
