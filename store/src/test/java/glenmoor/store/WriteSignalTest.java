package glenmoor.store;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.store.jobs.RecurringJobMapper;
import glenmoor.store.time.ClockMapper;
import java.time.Instant;
import java.util.List;
import java.util.concurrent.atomic.AtomicInteger;
import javax.sql.DataSource;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.TransactionDefinition;
import org.springframework.transaction.support.TransactionTemplate;

/** Whoever waits for something to be written hears of it when others can see it, and only then. */
class WriteSignalTest {
  private static final Instant NOW = Instant.parse("2027-03-01T06:00:00Z");

  private final WriteSignal signal = Database.get(WriteSignal.class);
  private final ClockMapper clock = Database.get(ClockMapper.class);
  private final TransactionTemplate transaction =
      new TransactionTemplate(Database.get(PlatformTransactionManager.class));
  private long before;

  @BeforeEach
  void begin() {
    Database.empty();
    before = signal.count();
  }

  private long told() {
    return signal.count() - before;
  }

  private void write() {
    clock.putMovableClock(NOW, 0, NOW);
  }

  @Test
  void what_is_written_without_a_transaction_is_told_at_once() {
    write();
    assertThat(told()).isOne();
  }

  @Test
  void a_transaction_is_told_once_and_when_it_has_committed() {
    transaction.executeWithoutResult(status -> {
      write();
      write();
      assertThat(told()).isZero();
    });
    assertThat(told()).isOne();
  }

  @Test
  void what_is_rolled_back_is_not_told() {
    transaction.executeWithoutResult(status -> {
      write();
      status.setRollbackOnly();
    });
    assertThat(told()).isZero();
  }

  @Test
  void a_transaction_within_another_is_told_by_itself() {
    var inner = new TransactionTemplate(Database.get(PlatformTransactionManager.class));
    inner.setPropagationBehavior(TransactionDefinition.PROPAGATION_REQUIRES_NEW);
    transaction.executeWithoutResult(outer -> {
      inner.executeWithoutResult(status -> write());
      assertThat(told()).isOne();
      outer.setRollbackOnly();
    });
    assertThat(told()).isOne();
  }

  @Test
  void what_changes_no_row_or_only_says_that_somebody_is_there_is_not_told() {
    clock.readMovableClock(NOW, NOW);
    write();
    before = signal.count();
    clock.readMovableClock(NOW.plusSeconds(1), NOW.plusSeconds(1));
    Database.get(RecurringJobMapper.class)
        .bringForward(List.of(new RecurringJobMapper.LongestRest("sweep", NOW)), NOW);
    assertThat(clock.movableClock().at()).isEqualTo(NOW.plusSeconds(1));
    assertThat(told()).isZero();
  }

  @Test
  void rows_in_bulk_are_told_too() {
    var data = Database.get(DataSource.class);
    var sql = new JdbcTemplate(data);
    sql.execute("create or replace table berth (id bigint primary key)");
    record Berth(Long id) {}
    var bulk = new Bulk(data, signal);
    transaction.executeWithoutResult(status -> {
      bulk.insert("berth", List.of(new Berth(1L)));
      assertThat(told()).isZero();
    });
    assertThat(told()).isOne();
    bulk.insert("berth", List.of());
    assertThat(told()).isOne();
    sql.execute("drop table berth");
  }

  @Test
  void a_listener_is_called_where_it_can_see_what_was_written() {
    var seen = new AtomicInteger(-1);
    var sql = new JdbcTemplate(Database.get(DataSource.class));
    signal.onWrite(
        () -> seen.set(sql.queryForObject("select count(*) from movable_clock", Integer.class)));
    transaction.executeWithoutResult(status -> write());
    assertThat(seen).hasValue(1);
  }
}
