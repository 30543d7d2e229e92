package glenmoor.server.jobs;

import com.github.kagkarlsson.scheduler.Scheduler;
import com.github.kagkarlsson.scheduler.task.CompletionHandler;
import com.github.kagkarlsson.scheduler.task.TaskDescriptor;
import com.github.kagkarlsson.scheduler.task.helper.CustomTask;
import com.github.kagkarlsson.scheduler.task.helper.Tasks;
import com.github.kagkarlsson.scheduler.task.schedule.FixedDelay;
import glenmoor.engine.jobs.JobQueue;
import glenmoor.engine.jobs.JobRunner;
import java.time.Duration;
import java.time.Instant;
import java.util.function.Supplier;
import javax.sql.DataSource;
import org.springframework.jdbc.datasource.TransactionAwareDataSourceProxy;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;

/**
 * Long work, one row each until it has ended. It is added in the transaction that begins it; what a
 * killed service had taken up is taken over by another one.
 */
public final class LongWorkQueue implements JobQueue, AutoCloseable {
  /** So many files are read, or forecasts made, at once by one service. */
  private static final int AT_ONCE = 4;

  private static final Duration AFTER_FAILURE = Duration.ofSeconds(5);
  private static final TaskDescriptor<Void> WORK = TaskDescriptor.of("work");

  private final Scheduler scheduler;

  /**
   * @param jobs asked for when the first work is taken up: they need this queue themselves
   */
  LongWorkQueue(DataSource dataSource, Supplier<JobRunner> jobs) {
    scheduler =
        Scheduler.create(new TransactionAwareDataSourceProxy(dataSource), task(jobs))
            .tableName("job_queue")
            .threads(AT_ONCE)
            .pollingInterval(Duration.ofMillis(500))
            .heartbeatInterval(Duration.ofSeconds(3))
            .missedHeartbeatsLimit(4)
            // What is not done by then is left to the next service.
            .shutdownMaxWait(Duration.ofSeconds(5))
            .alwaysPersistTimestampInUTC()
            .build();
  }

  private static CustomTask<Void> task(Supplier<JobRunner> jobs) {
    return Tasks.custom(WORK)
        .onFailureReschedule(FixedDelay.of(AFTER_FAILURE))
        .onDeadExecutionRevive()
        .execute((instance, context) ->
            jobs.get()
                .run(Long.parseLong(instance.getId()))
                .<CompletionHandler<Void>>map(LongWorkQueue::again)
                .orElseGet(CompletionHandler.OnCompleteRemove::new));
  }

  private static CompletionHandler<Void> again(Duration after) {
    return (complete, operations) -> operations.reschedule(complete, Instant.now().plus(after));
  }

  /** Begins to take work up. */
  public void start() {
    scheduler.start();
  }

  @Override
  public void add(long work) {
    scheduler.schedule(WORK.instance(String.valueOf(work)).scheduledTo(Instant.now()));
    if (TransactionSynchronizationManager.isSynchronizationActive()) {
      TransactionSynchronizationManager.registerSynchronization(
          new TransactionSynchronization() {
            @Override
            public void afterCommit() {
              scheduler.triggerCheckForDueExecutions();
            }
          });
    } else {
      scheduler.triggerCheckForDueExecutions();
    }
  }

  @Override
  public void close() {
    scheduler.stop();
  }
}
