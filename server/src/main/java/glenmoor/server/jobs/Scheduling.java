package glenmoor.server.jobs;

import com.github.kagkarlsson.scheduler.Scheduler;
import com.github.kagkarlsson.scheduler.task.helper.RecurringTask;
import com.github.kagkarlsson.scheduler.task.helper.Tasks;
import com.github.kagkarlsson.scheduler.task.schedule.FixedDelay;
import glenmoor.engine.jobs.JobRunner;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.server.DatabaseAway;
import java.time.Duration;
import java.util.List;
import javax.sql.DataSource;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;

/** What recurs: one replica at a time does each, whichever comes first. */
@Configuration(proxyBeanMethods = false)
class Scheduling {
  private static final Logger LOG = LoggerFactory.getLogger(Scheduling.class);
  private static final int THREADS = 5;

  @Bean(destroyMethod = "stop")
  Scheduler scheduler(DataSource dataSource, List<RecurringJob.Owner> owners) {
    var tasks =
        owners.stream().flatMap(owner -> owner.recurring().stream()).map(Scheduling::task).toList();
    return Scheduler.create(dataSource)
        .startTasks(tasks)
        .threads(THREADS)
        .pollingInterval(Duration.ofMillis(500))
        // What a killed service had picked is taken over after four of these, well within 30 s.
        .heartbeatInterval(Duration.ofSeconds(3))
        .missedHeartbeatsLimit(4)
        .alwaysPersistTimestampInUTC()
        .build();
  }

  /** Long work, apart from what recurs: many at once may be long, and keep no sweep waiting. */
  @Bean
  LongWorkQueue longWorkQueue(DataSource dataSource, ObjectProvider<JobRunner> jobs) {
    return new LongWorkQueue(dataSource, jobs::getObject);
  }

  private static RecurringTask<Void> task(RecurringJob job) {
    return Tasks.recurring(job.name(), FixedDelay.of(job.every()))
        .execute((instance, context) -> quietly(job));
  }

  /** A database that is away is one line in the log, not a page. */
  private static void quietly(RecurringJob job) {
    try {
      job.work().run();
    } catch (RuntimeException failed) {
      if (!DatabaseAway.isAway(failed)) {
        LOG.error("The job {} failed", job.name(), failed);
        throw failed;
      }
      LOG.debug("{} waits for the database: {}", job.name(), failed.getMessage());
    }
  }
}
