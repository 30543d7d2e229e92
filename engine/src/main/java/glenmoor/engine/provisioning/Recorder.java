package glenmoor.engine.provisioning;

import glenmoor.core.applications.AccountState;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.provisioning.OperationState;
import glenmoor.core.provisioning.Order;
import glenmoor.core.provisioning.Outcome;
import glenmoor.engine.agenda.Transactions;
import glenmoor.engine.ledger.Ledger;
import glenmoor.store.agenda.SqlTime;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.provisioning.OperationMapper.Taken;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tools.jackson.databind.json.JsonMapper;

/**
 * Writes down what came of operations: many lanes in one transaction, because a commit costs the
 * same for one and for a hundred. When the database is away, results wait in memory and are written
 * once it is back; if the process dies first, the leases run out and the lanes are done again.
 */
public final class Recorder implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(Recorder.class);
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final int MOST_LANES = 200;
  private static final Duration GATHER = Duration.ofMillis(5);
  private static final int LONGEST_REASON = 1_000;

  /** What one operation came to. */
  public record Result(
      Taken operation, Order order, Outcome outcome, OperationState state, Instant sentAt) {}

  /** What the operations of one lane came to, in order. */
  public record LaneResult(long account, String replica, List<Result> results) {}

  private final BlockingQueue<LaneResult> queue = new LinkedBlockingQueue<>();
  private final OperationMapper operations;
  private final AccountMapper accounts;
  private final Ledger ledger;
  private final Transactions transactions;
  private Runnable afterwards = () -> {};
  private volatile boolean running;

  public Recorder(
      OperationMapper operations,
      AccountMapper accounts,
      Ledger ledger,
      Transactions transactions) {
    this.operations = operations;
    this.accounts = accounts;
    this.ledger = ledger;
    this.transactions = transactions;
  }

  /**
   * Begins to write.
   *
   * @param written called after each transaction: lanes are free again
   */
  void start(Runnable written) {
    afterwards = written;
    running = true;
    Thread.ofVirtual().name("recorder").start(this::loop);
  }

  void record(LaneResult result) {
    queue.add(result);
  }

  private void loop() {
    var batch = new ArrayList<LaneResult>();
    while (running || !queue.isEmpty()) {
      try {
        var first = queue.poll(1, TimeUnit.SECONDS);
        if (first == null) {
          continue;
        }
        batch.add(first);
        gather(batch);
        write(batch);
        batch.clear();
        afterwards.run();
      } catch (InterruptedException stopped) {
        Thread.currentThread().interrupt();
        return;
      }
    }
  }

  /** Waits a moment for more, as long as more keep coming. */
  private void gather(List<LaneResult> batch) throws InterruptedException {
    int before;
    do {
      before = batch.size();
      Thread.sleep(GATHER);
      queue.drainTo(batch, MOST_LANES - before);
    } while (batch.size() > before && batch.size() < MOST_LANES / 2);
  }

  private void write(List<LaneResult> lanes) throws InterruptedException {
    while (true) {
      try {
        var start = System.nanoTime();
        transactions.run(() -> writeAll(lanes));
        LOG.debug("{} lanes in {} ms", lanes.size(), (System.nanoTime() - start) / 1_000_000);
        return;
      } catch (RuntimeException failed) {
        if (!running) {
          LOG.warn("Results of {} lanes were not written; they will be done again", lanes.size());
          return;
        }
        LOG.warn("Results cannot be written yet, and will be: {}", failed.getMessage());
        Thread.sleep(Duration.ofSeconds(1));
      }
    }
  }

  private void writeAll(List<LaneResult> lanes) {
    var results = new ArrayList<OperationMapper.Result>();
    var seen = new ArrayList<AccountMapper.Seen>();
    var held = new LinkedHashMap<String, AccountMapper.Held>();
    var entries = new ArrayList<LedgerEntry>();
    for (var lane : lanes) {
      var nativeId = "";
      @Nullable String state = null;
      for (var result : lane.results()) {
        results.add(row(result));
        entry(result, entries);
        if (result.outcome() instanceof Outcome.Confirmed confirmed) {
          nativeId = confirmed.nativeId().isEmpty() ? nativeId : confirmed.nativeId();
          state = stateAfter(result.order(), state);
          hold(result, held);
        }
      }
      if (state != null || !nativeId.isEmpty()) {
        seen.add(new AccountMapper.Seen(lane.account(), state, nativeId));
      }
    }
    if (!results.isEmpty()) {
      operations.record(JSON.writeValueAsString(results));
    }
    if (!seen.isEmpty()) {
      accounts.seen(JSON.writeValueAsString(seen));
    }
    if (!held.isEmpty()) {
      accounts.held(JSON.writeValueAsString(held.values()));
    }
    ledger.append(entries);
    lanes.stream()
        .map(LaneResult::replica)
        .distinct()
        .forEach(replica ->
            operations.release(lanes.stream().map(LaneResult::account).toList(), replica));
  }

  private static @Nullable String stateAfter(Order order, @Nullable String before) {
    return switch (order) {
      case Order.Create create -> create.state().word();
      case Order.Enable e -> AccountState.ENABLED.word();
      case Order.Disable d -> AccountState.DISABLED.word();
      case Order.Delete d -> AccountState.NONE.word();
      case Order.Update u -> before;
      case Order.Add a -> before;
      case Order.Remove r -> before;
      case Order.SetPassword s -> before;
    };
  }

  private static void hold(Result result, Map<String, AccountMapper.Held> held) {
    var account = result.operation().accountId();
    var at = SqlTime.write(result.sentAt());
    switch (result.order()) {
      case Order.Add add ->
          held.put(
              account + add.entitlement(),
              new AccountMapper.Held(account, add.entitlement(), 1, at));
      case Order.Remove remove ->
          held.put(
              account + remove.entitlement(),
              new AccountMapper.Held(account, remove.entitlement(), 0, at));
      case Order.Create c -> {}
      case Order.Update u -> {}
      case Order.Enable e -> {}
      case Order.Disable d -> {}
      case Order.SetPassword s -> {}
      case Order.Delete d -> {}
    }
  }

  private static OperationMapper.Result row(Result result) {
    var id = result.operation().id();
    var sent = SqlTime.write(result.sentAt());
    return switch (result.state()) {
      case OperationState.Waiting w ->
          row(id, "waiting", w.attempts(), w.notBefore(), w.lastReason(), sent, null);
      case OperationState.Confirmed c ->
          row(id, "confirmed", c.attempts(), c.at(), c.note(), sent, c.at());
      case OperationState.Fault f ->
          row(id, "fault", f.attempts(), f.at(), f.reason(), sent, f.at());
      case OperationState.ByHand b -> row(id, "by-hand", 0, b.at(), b.note(), sent, b.at());
      case OperationState.GivenUp g -> row(id, "given-up", 0, g.at(), g.reason(), sent, g.at());
    };
  }

  /** How one operation stands, in the form the outbox takes it. */
  static OperationMapper.Result row(
      long id,
      String state,
      int attempts,
      Instant notBefore,
      String reason,
      @Nullable String sentAt,
      @Nullable Instant settledAt) {
    var shown =
        reason.length() > LONGEST_REASON ? reason.substring(0, LONGEST_REASON - 1) + "…" : reason;
    return new OperationMapper.Result(
        id,
        state,
        attempts,
        SqlTime.write(notBefore),
        shown,
        sentAt,
        settledAt == null ? null : SqlTime.write(settledAt),
        "");
  }

  private static void entry(Result result, List<LedgerEntry> entries) {
    var operation = result.operation();
    var what =
        switch (result.state()) {
          case OperationState.Confirmed c -> "operation-confirmed";
          case OperationState.Fault f -> "operation-fault";
          case OperationState.Waiting w -> "";
          case OperationState.ByHand b -> "";
          case OperationState.GivenUp g -> "";
        };
    if (what.isEmpty()) {
      return;
    }
    entries.add(
        new LedgerEntry(
            result.sentAt(),
            "connector:" + operation.application(),
            "operation:" + operation.id(),
            "person:" + operation.workerNumber(),
            what,
            Map.of(),
            Map.of(
                "kind", operation.kind(),
                "account", operation.accountName(),
                "order", order(result.order()),
                "cause", operation.cause(),
                "reason", reason(result.state()))));
  }

  private static String order(Order order) {
    return order instanceof Order.SetPassword ? "(a secret)" : OrderJson.write(order);
  }

  private static String reason(OperationState state) {
    return state instanceof OperationState.Fault fault ? fault.reason() : "";
  }

  @Override
  public void close() {
    running = false;
  }
}
