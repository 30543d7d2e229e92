package glenmoor.engine.jobs;

import glenmoor.store.WriteSignal;
import glenmoor.store.jobs.RecurringJobMapper;
import glenmoor.store.jobs.RecurringJobMapper.LongestRest;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.InstantSource;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * How long what recurs rests between two runs, so that a service in which nothing happens asks its
 * database next to nothing.
 *
 * <p>A job rests as long as it says where something was written since its run before, and twice as
 * long each time where nothing was, up to its longest. When something is written, jobs that rest
 * longer than usual are brought forward, whichever replica would have run them next. Only a job
 * that another replica runs just then may miss it: it rests once more, as long as its longest at
 * most.
 */
@Named
public final class JobRests implements AutoCloseable {
  private static final Logger LOG = LoggerFactory.getLogger(JobRests.class);

  /** Where much is written, jobs are brought forward this often, and not with each write. */
  private static final Duration PACE = Duration.ofSeconds(1);

  /** Where nothing is written, it is looked this often whether a job sleeps for too long. */
  private static final Duration LOOK = Duration.ofSeconds(30);

  /** Clocks of services differ by no more than this. */
  static final Duration AHEAD = Duration.ofMinutes(1);

  private final WriteSignal writes;
  private final RecurringJobMapper mapper;
  private final List<RecurringJob> jobs;
  private final InstantSource system = InstantSource.system();
  private final Map<String, Rest> rests = new ConcurrentHashMap<>();
  private final Semaphore written = new Semaphore(0);
  private volatile boolean running;

  /** How long a job rested last, and how much had been written by then. */
  private record Rest(Duration time, long writes) {}

  JobRests(WriteSignal writes, RecurringJobMapper mapper, List<RecurringJob.Owner> owners) {
    this.writes = writes;
    this.mapper = mapper;
    jobs = RecurringJob.all(owners);
  }

  /** How long a job rests that has just run. */
  public Duration after(RecurringJob job) {
    var count = writes.count();
    return rests
        .compute(
            job.name(),
            (name, before) ->
                new Rest(
                    before == null || before.writes() != count
                        ? job.every()
                        : longer(before.time(), job.longest()),
                    count))
        .time();
  }

  private static Duration longer(Duration rest, Duration longest) {
    var twice = rest.multipliedBy(2);
    return twice.compareTo(longest) < 0 ? twice : longest;
  }

  /** From now on what is written brings jobs forward. */
  public void start() {
    running = true;
    writes.onWrite(this::hear);
    Thread.ofVirtual().name("job-rests").start(this::bringForward);
  }

  private void hear() {
    if (written.availablePermits() == 0) {
      written.release();
    }
  }

  private void bringForward() {
    while (running) {
      try {
        if (written.tryAcquire(LOOK.toSeconds(), TimeUnit.SECONDS)) {
          written.drainPermits();
          bringForwardNow();
        }
        wakeNow();
        Thread.sleep(PACE);
      } catch (InterruptedException stopped) {
        Thread.currentThread().interrupt();
        return;
      } catch (RuntimeException away) {
        LOG.debug(
            "Jobs cannot be brought forward just now; they run when their rest is over", away);
      }
    }
  }

  /** Has those that rest longer than usual run now. */
  void bringForwardNow() {
    var now = system.instant();
    var resting =
        jobs.stream()
            .filter(job -> job.longest().compareTo(job.every()) > 0)
            .map(job -> new LongestRest(job.name(), now.plus(job.every())))
            .toList();
    mapper.bringForward(resting, now);
  }

  /**
   * Has those run now that are to rest longer than they ever would: they were put off by a clock
   * that was ahead.
   */
  void wakeNow() {
    var now = system.instant();
    mapper.bringForward(
        jobs.stream()
            .map(job -> new LongestRest(job.name(), now.plus(job.longest()).plus(AHEAD)))
            .toList(),
        now);
  }

  @Override
  public void close() {
    running = false;
    hear();
  }
}
