package glenmoor.server.jobs;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.mockito.ArgumentMatchers.anyLong;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import glenmoor.engine.jobs.JobRunner;
import glenmoor.store.Database;
import java.time.Duration;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.function.BooleanSupplier;
import javax.sql.DataSource;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Long work in the real queue: begun with what began it, taken up once, and again after a death.
 */
class LongWorkQueueTest {
  private static final DataSource DATA = Database.get(DataSource.class);
  private static final JdbcTemplate SQL = new JdbcTemplate(DATA);
  private static final TransactionTemplate TRANSACTION =
      new TransactionTemplate(Database.get(PlatformTransactionManager.class));

  private final JobRunner jobs = mock(JobRunner.class);
  private final List<Long> taken = new CopyOnWriteArrayList<>();
  private final LongWorkQueue queue = new LongWorkQueue(DATA, () -> jobs);

  @BeforeEach
  void empty() {
    Database.empty();
    when(jobs.run(anyLong()))
        .thenAnswer(call -> {
          taken.add(call.getArgument(0));
          return Optional.empty();
        });
  }

  @AfterEach
  void stop() {
    queue.close();
  }

  private static long waiting() {
    return Objects.requireNonNull(SQL.queryForObject("select count(*) from job_queue", Long.class));
  }

  private static void eventually(Duration within, BooleanSupplier so) throws InterruptedException {
    var until = System.nanoTime() + within.toNanos();
    while (!so.getAsBoolean()) {
      assertThat(System.nanoTime()).as("within %s", within).isLessThan(until);
      Thread.sleep(20);
    }
  }

  @Test
  void work_is_there_once_what_began_it_is_committed_and_gone_once_it_is_done() throws Exception {
    queue.start();
    TRANSACTION.executeWithoutResult(status -> {
      queue.add(7);
      assertThat(taken).isEmpty();
    });
    eventually(Duration.ofSeconds(10), () -> waiting() == 0);
    assertThat(taken).containsExactly(7L);
  }

  @Test
  void work_of_what_was_rolled_back_never_begins() throws Exception {
    queue.start();
    assertThatThrownBy(() ->
            TRANSACTION.executeWithoutResult(status -> {
              queue.add(7);
              throw new IllegalStateException("the crate is shut");
            }))
        .isInstanceOf(IllegalStateException.class);
    queue.add(8);
    eventually(Duration.ofSeconds(10), () -> taken.contains(8L));
    assertThat(waiting()).isZero();
    assertThat(taken).containsExactly(8L);
  }

  @Test
  void what_cannot_go_on_yet_is_taken_up_again_and_so_is_what_threw() throws Exception {
    when(jobs.run(7))
        .thenAnswer(call -> {
          taken.add(7L);
          return switch (taken.size()) {
            case 1, 2 -> Optional.of(Duration.ofMillis(50));
            case 3 -> throw new IllegalStateException("the floor gave way");
            default -> Optional.empty();
          };
        });
    queue.start();
    queue.add(7);
    eventually(Duration.ofSeconds(30), () -> waiting() == 0);
    assertThat(taken).hasSize(4);
  }

  @Test
  void what_a_killed_service_had_taken_up_is_taken_up_by_the_next_one() throws Exception {
    queue.add(7);
    SQL.update(
        "update job_queue set picked = true, picked_by = 'a service that was killed', last_heartbeat = utc_timestamp(6), version = version + 1");
    queue.start();
    eventually(Duration.ofSeconds(30), () -> taken.contains(7L));
    eventually(Duration.ofSeconds(10), () -> waiting() == 0);
  }

  @Test
  void two_services_do_no_work_twice() throws Exception {
    var other = new LongWorkQueue(DATA, () -> jobs);
    try {
      queue.start();
      other.start();
      for (var work = 1L; work <= 40; work++) {
        queue.add(work);
      }
      eventually(Duration.ofSeconds(30), () -> waiting() == 0);
      assertThat(taken).hasSize(40).doesNotHaveDuplicates();
    } finally {
      other.close();
    }
  }
}
