package glenmoor.engine.reconcile;

import glenmoor.connect.applications.Connector;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;

/**
 * An application being read by a thread of its own, some thousand lines ahead of whoever compares
 * them: reading goes on while that one is at work.
 *
 * <p>Whoever closes it before the end stops the reading at the next line; a connector is never
 * interrupted, since that would look as if the application did not answer.
 */
final class Listing implements AutoCloseable {
  /** Where the reading thread puts what it reads. */
  interface Reader {
    void account(Connector.Seen seen);

    void membership(Connector.Membership membership);
  }

  private record Batch(List<Connector.Seen> accounts, List<Connector.Membership> memberships) {
    Batch() {
      this(new ArrayList<>(), new ArrayList<>());
    }

    int size() {
      return accounts.size() + memberships.size();
    }
  }

  private static final class Stopped extends RuntimeException {
    private static final long serialVersionUID = 1;

    Stopped() {
      super("stopped", null, false, false);
    }
  }

  private static final Batch END = new Batch(List.of(), List.of());
  private static final int LINES = 500;
  private static final int BATCHES_AHEAD = 40;
  private static final int WAIT_MILLIS = 50;

  private final BlockingQueue<Batch> ahead = new ArrayBlockingQueue<>(BATCHES_AHEAD);
  private final ExecutorService thread =
      Executors.newSingleThreadExecutor(Thread.ofVirtual().factory());
  private final CompletableFuture<Void> reading;
  private volatile boolean closed;

  /**
   * Begins to read; what {@code read} throws is the cause of the {@code CompletionException} that
   * {@link #each} throws.
   */
  Listing(Consumer<Reader> read) {
    reading = CompletableFuture.runAsync(() -> handOver(read), thread);
  }

  private void handOver(Consumer<Reader> read) {
    var batches =
        new Reader() {
          private Batch batch = new Batch();

          @Override
          public void account(Connector.Seen seen) {
            batch.accounts().add(seen);
            full(LINES);
          }

          @Override
          public void membership(Connector.Membership membership) {
            batch.memberships().add(membership);
            full(LINES);
          }

          private void full(int size) {
            if (batch.size() >= size) {
              put(batch);
              batch = new Batch();
            }
          }
        };
    try {
      read.accept(batches);
      batches.full(1);
    } finally {
      put(END);
    }
  }

  private void put(Batch batch) {
    try {
      while (!closed) {
        if (ahead.offer(batch, WAIT_MILLIS, TimeUnit.MILLISECONDS)) {
          return;
        }
      }
      throw new Stopped();
    } catch (InterruptedException never) {
      throw new Stopped();
    }
  }

  /** Gives everything in the order in which it was read, until the end. */
  void each(Consumer<Connector.Seen> account, Consumer<Connector.Membership> membership) {
    try {
      for (var batch = ahead.take(); batch.size() > 0; batch = ahead.take()) {
        batch.accounts().forEach(account);
        batch.memberships().forEach(membership);
      }
      reading.join();
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
      throw new IllegalStateException("Comparing was stopped", stopped);
    }
  }

  @Override
  public void close() {
    closed = true;
    thread.close();
  }
}
