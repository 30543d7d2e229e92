package glenmoor.engine.jobs;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.engine.TestEnvironment;
import glenmoor.store.Database;
import glenmoor.store.WriteSignal;
import glenmoor.store.jobs.RecurringJobMapper;
import glenmoor.store.time.ClockMapper;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.stream.IntStream;
import javax.sql.DataSource;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.springframework.jdbc.core.JdbcTemplate;

/**
 * What recurs rests longer and longer while nothing is written, and not a moment longer than that.
 */
class JobRestsTest {
  private static final Instant NOW = Instant.parse("2027-03-01T06:00:00Z");
  private static final RecurringJob SWEEP = job("sweep", 1);
  private static final RecurringJob HOURLY = job("hourly", 3_600);

  /** Looks at what no write tells of. */
  private static final RecurringJob FILES =
      new RecurringJob("files", "", Duration.ofSeconds(2), Duration.ofSeconds(2), () -> {});

  private final JdbcTemplate sql = new JdbcTemplate(Database.get(DataSource.class));
  private final JobRests rests =
      new JobRests(
          Database.get(WriteSignal.class),
          Database.get(RecurringJobMapper.class),
          List.of(() -> List.of(SWEEP, HOURLY, FILES)));

  private static RecurringJob job(String name, int seconds) {
    return new RecurringJob(name, "", Duration.ofSeconds(seconds), () -> {});
  }

  @BeforeEach
  void empty() {
    Database.empty();
  }

  @AfterEach
  void close() {
    rests.close();
  }

  private static void write() {
    Database.get(ClockMapper.class).putMovableClock(NOW, 0, NOW);
  }

  private List<Long> rested(RecurringJob job, int runs) {
    return IntStream.range(0, runs).mapToObj(run -> rests.after(job).toSeconds()).toList();
  }

  @Test
  void a_job_rests_longer_while_nothing_is_written_and_as_usual_after_a_write() {
    assertThat(rested(SWEEP, 6)).containsExactly(1L, 2L, 4L, 8L, 10L, 10L);
    write();
    assertThat(rested(SWEEP, 2)).containsExactly(1L, 2L);
  }

  @Test
  void what_one_job_writes_keeps_the_others_awake() {
    rested(SWEEP, 4);
    rested(HOURLY, 1);
    write();
    assertThat(rests.after(SWEEP)).isEqualTo(SWEEP.every());
    assertThat(rests.after(HOURLY)).isEqualTo(HOURLY.every());
  }

  @Test
  void what_is_slow_anyway_or_looks_outside_rests_as_it_says() {
    assertThat(rested(HOURLY, 3)).containsOnly(3_600L);
    assertThat(rested(FILES, 3)).containsOnly(2L);
  }

  private void scheduled(RecurringJob job, Duration in, boolean picked) {
    sql.update(
        "insert into scheduled_tasks (task_name, task_instance, execution_time, picked, version) values (?, 'recurring', sysdate(6) + interval ? second, ?, 7)",
        job.name(),
        in.toSeconds(),
        picked);
  }

  private boolean due(RecurringJob job) {
    return sql.queryForObject(
        "select execution_time <= sysdate(6) from scheduled_tasks where task_name = ?",
        Boolean.class,
        job.name());
  }

  @Test
  void what_a_clock_that_was_ahead_put_off_runs_now_and_is_said_to_be_late() {
    scheduled(SWEEP, Duration.ofDays(1), false);
    scheduled(HOURLY, Duration.ofHours(2), false);
    scheduled(FILES, Duration.ofSeconds(2), false);
    var listed =
        new RecurringJobs(
            Database.get(RecurringJobMapper.class), List.of(() -> List.of(SWEEP, HOURLY, FILES)));
    assertThat(listed.late()).containsExactlyInAnyOrder("sweep", "hourly");
    rests.wakeNow();
    assertThat(due(SWEEP)).isTrue();
    assertThat(due(HOURLY)).isTrue();
    assertThat(due(FILES)).as("rests as long as it may").isFalse();
    assertThat(listed.late()).isEmpty();
  }

  private long version(RecurringJob job) {
    return sql.queryForObject(
        "select version from scheduled_tasks where task_name = ?", Long.class, job.name());
  }

  @Test
  void a_write_brings_forward_what_rests_long_and_nothing_else() {
    scheduled(SWEEP, Duration.ofSeconds(9), false);
    scheduled(HOURLY, Duration.ofSeconds(3_000), false);
    scheduled(FILES, Duration.ofSeconds(9), false);
    rests.start();
    write();
    TestEnvironment.eventually(() -> due(SWEEP));
    // Whoever had read the row before must find that it is another one now.
    assertThat(version(SWEEP)).isEqualTo(8);
    assertThat(due(HOURLY)).isFalse();
    assertThat(due(FILES)).isFalse();
  }

  @Test
  void what_runs_just_now_or_soon_is_left_alone() {
    scheduled(SWEEP, Duration.ofSeconds(9), true);
    rests.bringForwardNow();
    assertThat(version(SWEEP)).isEqualTo(7);
    sql.update(
        "update scheduled_tasks set picked = 0, execution_time = sysdate(6) + interval 500000 microsecond");
    rests.bringForwardNow();
    assertThat(version(SWEEP)).isEqualTo(7);
  }

  @Test
  void a_write_while_jobs_were_just_brought_forward_brings_them_forward_again() {
    scheduled(SWEEP, Duration.ofSeconds(9), false);
    rests.start();
    write();
    TestEnvironment.eventually(() -> due(SWEEP));
    sql.update("update scheduled_tasks set execution_time = sysdate(6) + interval 9 second");
    write();
    TestEnvironment.eventually(() -> due(SWEEP));
  }
}
