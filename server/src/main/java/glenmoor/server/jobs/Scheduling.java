package glenmoor.server.jobs;

import com.github.kagkarlsson.scheduler.Scheduler;
import com.github.kagkarlsson.scheduler.task.ExecutionComplete;
import com.github.kagkarlsson.scheduler.task.helper.RecurringTask;
import com.github.kagkarlsson.scheduler.task.helper.Tasks;
import com.github.kagkarlsson.scheduler.task.schedule.Schedule;
import glenmoor.engine.jobs.JobRests;
import glenmoor.engine.jobs.JobRunner;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.server.DatabaseAway;
import java.time.Duration;
import java.time.Instant;
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
  Scheduler scheduler(DataSource dataSource, List<RecurringJob.Owner> owners, JobRests rests) {
    var tasks = RecurringJob.all(owners).stream().map(job -> task(job, rests)).toList();
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

  private static RecurringTask<Void> task(RecurringJob job, JobRests rests) {
    return Tasks.recurring(job.name(), new Resting(job, rests))
        .execute((instance, context) -> quietly(job));
  }

  /** When a job runs next: when it has rested, from its end on. */
  private record Resting(RecurringJob job, JobRests rests) implements Schedule {
    @Override
    public Instant getNextExecutionTime(ExecutionComplete done) {
      return done.getTimeDone().plus(rests.after(job));
    }

    @Override
    public Instant getInitialExecutionTime(Instant now) {
      return now;
    }

    @Override
    public boolean isDeterministic() {
      return false;
    }
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
