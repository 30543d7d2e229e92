package glenmoor.engine.provisioning;

import glenmoor.core.provisioning.OperationState;
import glenmoor.core.provisioning.Outcome;
import glenmoor.core.provisioning.ProvisioningCommand;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Transactions;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.provisioning.OperationMapper.Taken;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DataAccessResourceFailureException;
import org.springframework.dao.TransientDataAccessException;
import org.springframework.transaction.TransactionException;

/**
 * Writes down what came of operations: many lanes in one transaction, because a commit costs the
 * same for one and for a hundred. When the database is away, results wait in memory and are written
 * once it is back; if the process dies first, the leases run out and the lanes are done again.
 */
@Named
public final class ResultWriter implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(ResultWriter.class);
  private static final int MOST_LANES = 200;

  private static final int MOST_WAITING = 5 * MOST_LANES;

  /** One that waits for the database leaves the other one time to prepare. */
  private static final int WRITERS = 2;

  private static final Duration GATHER = Duration.ofMillis(5);

  /** What one operation came to. */
  public record Result(
      Taken operation,
      ProvisioningCommand command,
      Outcome outcome,
      OperationState state,
      Instant sentAt) {}

  /** What the operations of one lane came to, in order, under the lease with this token. */
  public record LaneResult(long account, long token, List<Result> results) {}

  private final BlockingQueue<LaneResult> queue = new LinkedBlockingQueue<>();
  private final OperationMapper operations;
  private final AccountMapper accounts;
  private final PersonMapper people;
  private final Ledger ledger;
  private final Transactions transactions;
  private Consumer<List<LaneResult>> afterwards = lanes -> {};
  private volatile boolean running;

  public ResultWriter(
      OperationMapper operations,
      AccountMapper accounts,
      PersonMapper people,
      Ledger ledger,
      Transactions transactions) {
    this.operations = operations;
    this.accounts = accounts;
    this.people = people;
    this.ledger = ledger;
    this.transactions = transactions;
  }

  /**
   * Begins to write.
   *
   * @param written called after each transaction, by several threads: these lanes are free again
   */
  void start(Consumer<List<LaneResult>> written) {
    afterwards = written;
    running = true;
    for (var i = 0; i < WRITERS; i++) {
      Thread.ofVirtual().name("result-writer-" + i).start(this::loop);
    }
  }

  /** So much waits to be written that no more should be begun. */
  boolean isBehind() {
    return queue.size() > MOST_WAITING;
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
        afterwards.accept(List.copyOf(batch));
        batch.clear();
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
        transactions.run(
            () -> new ResultBatch(operations, accounts, people, ledger, lanes).write());
        LOG.debug("{} lanes in {} ms", lanes.size(), (System.nanoTime() - start) / 1_000_000);
        return;
      } catch (TransientDataAccessException
          | DataAccessResourceFailureException
          | TransactionException away) {
        if (!running) {
          LOG.warn("Results of {} lanes were not written; they will be done again", lanes.size());
          return;
        }
        LOG.warn("Results cannot be written yet, and will be: {}", away.getMessage());
        Thread.sleep(Duration.ofSeconds(1));
      } catch (RuntimeException bent) {
        apart(lanes, bent);
        return;
      }
    }
  }

  /** One result that the database does not take must not keep the others from being written. */
  private void apart(List<LaneResult> lanes, RuntimeException bent) throws InterruptedException {
    if (lanes.size() > 1) {
      for (var lane : lanes) {
        write(List.of(lane));
      }
      return;
    }
    var lane = lanes.getFirst();
    LOG.error("What came of lane {} cannot be kept", lane.account(), bent);
    if (lane.results().isEmpty()) {
      return;
    }
    var first = lane.results().getFirst();
    if (first.state() instanceof OperationState.Fault) {
      // Its lease runs out, and it is tried again: what is lost is a note, never the operation.
      return;
    }
    var fault =
        new OperationState.Fault(
            first.operation().attempts() + 1,
            first.sentAt(),
            "What came of it cannot be kept; the service's log says why");
    var told =
        new Result(
            first.operation(),
            first.command(),
            new Outcome.Refused(fault.reason()),
            fault,
            first.sentAt());
    write(List.of(new LaneResult(lane.account(), lane.token(), List.of(told))));
  }

  @Override
  public void close() {
    running = false;
  }
}
