package glenmoor.engine.names;

import static glenmoor.engine.TestEnvironment.eventually;
import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.engine.EngineTest;
import glenmoor.engine.TestEnvironment;
import glenmoor.engine.erasure.Erasing;
import glenmoor.engine.time.Transactions;
import glenmoor.store.names.NameChangeMapper;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.people.PersonSearch;
import glenmoor.store.people.PersonSearch.After;
import glenmoor.store.people.PersonSearch.Order;
import java.time.Duration;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.atomic.AtomicLong;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/**
 * Names in memory beside the database's. That it is the memory that answers is seen by a name that
 * is changed in the database without a word: only the memory still has the old one.
 */
class NameSearchTest extends EngineTest {
  private static final String ROW = "W-%d,%s,%s,Deck,Westholm,,2020-01-01,,,";
  private static final String MARA = ROW.formatted(3, "Mara", "Quoyness");

  private final AtomicLong nanos = new AtomicLong();
  private PersonMapper people;
  private NameSearch names;

  @BeforeEach
  void read() {
    people = environment.get(PersonMapper.class);
    load(MARA);
    names = replica();
    inMemory(names);
  }

  private void load(String... others) {
    var rows = new ArrayList<>(List.of(TestEnvironment.UNA, TestEnvironment.BO));
    rows.addAll(List.of(others));
    environment.load(rows.toArray(String[]::new));
  }

  private NameSearch replica() {
    return new NameSearch(people, environment.get(NameChangeMapper.class), nanos::get);
  }

  /** Asks, and waits until all names are read because of that. */
  private void inMemory(NameSearch search) {
    var before = search.known();
    search.list(part("una"));
    eventually(() -> search.known() != before);
  }

  private static PersonSearch part(String text) {
    return page(text, Order.BY_NAME, null, 50);
  }

  private static PersonSearch page(String text, Order order, @Nullable After after, int limit) {
    return new PersonSearch(
        text, false, Map.of(), null, LocalDate.EPOCH, null, order, after, limit);
  }

  private List<String> numbers(NameSearch search, String text) {
    return search.list(part(text)).stream().map(PersonRow::workerNumber).toList();
  }

  private void hasBoth(NameSearch search, String text, String... numbers) {
    assertThat(numbers(search, text)).containsExactly(numbers);
    assertThat(search.count(part(text))).isEqualTo(numbers.length);
    assertThat(people.search(part(text)).stream().map(PersonRow::workerNumber))
        .containsExactly(numbers);
  }

  private boolean tells(String without) {
    environment.sql.update(
        "update person set search_name = 'nobody' where worker_number = ?", without);
    return numbers(names, "quoyness").contains(without);
  }

  @Test
  void memory_answers_once_it_is_read() {
    assertThat(tells("W-3")).isTrue();
  }

  @Test
  void who_comes_and_who_is_called_otherwise_is_found_at_once_by_every_replica() {
    var other = replica();
    inMemory(other);
    load(ROW.formatted(3, "Mara", "Quoyness-Brae"), ROW.formatted(4, "Tamar", "Quoy"));
    for (var each : List.of(names, other)) {
      hasBoth(each, "quoy", "W-3", "W-4");
      hasBoth(each, "ness-brae", "W-3");
      hasBoth(each, "mar", "W-3", "W-4");
    }
    load(MARA, ROW.formatted(4, "Tamar", "Quoy"));
    for (var each : List.of(names, other)) {
      hasBoth(each, "brae");
      hasBoth(each, "quoyness", "W-3");
    }
    assertThat(tells("W-3")).as("still from memory").isTrue();
  }

  @Test
  void whoever_was_erased_is_not_found_by_name() {
    load();
    environment.at("2027-03-10T09:00:00Z");
    var mara = people.byWorker("W-3");
    environment
        .get(Transactions.class)
        .run(() -> environment.get(Erasing.class).erase(mara, "test"));
    hasBoth(names, "quoyness");
    hasBoth(names, "erased", "W-3");
  }

  @Test
  void a_change_that_is_committed_late_is_met_all_the_same() throws Exception {
    var told = new CountDownLatch(1);
    var goOn = new CountDownLatch(1);
    var late =
        Thread.ofVirtual()
            .start(() ->
                environment
                    .get(Transactions.class)
                    .run(() -> {
                      var id = people.byWorker("W-2").id();
                      environment.sql.update(
                          "update person set search_name = 'bo maran' where id = ?", id);
                      environment.get(NameChanges.class).tell(id);
                      told.countDown();
                      await(goOn);
                    }));
    await(told);
    load(MARA, ROW.formatted(4, "Tamar", "Quoy"));
    hasBoth(names, "mar", "W-3", "W-4");
    goOn.countDown();
    late.join();
    hasBoth(names, "mar", "W-2", "W-3", "W-4");
  }

  private static void await(CountDownLatch latch) {
    try {
      latch.await();
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
    }
  }

  @Test
  void what_is_not_committed_in_the_end_changes_nothing() {
    var wrong = new IllegalStateException("and now nothing of it");
    try {
      environment
          .get(Transactions.class)
          .run(() -> {
            var id = people.byWorker("W-2").id();
            environment.sql.update("update person set search_name = 'bo maran' where id = ?", id);
            environment.get(NameChanges.class).tell(id);
            throw wrong;
          });
    } catch (IllegalStateException thrown) {
      assertThat(thrown).isSameAs(wrong);
    }
    hasBoth(names, "mar", "W-3");
  }

  @Test
  void many_at_once_are_answered_by_the_database_until_all_are_read_anew() {
    var many = NameChangeMapper.MOST + 1;
    load(
        Stream.concat(
                Stream.of(MARA),
                IntStream.range(0, many).mapToObj(i -> ROW.formatted(100 + i, "Amara", "Dock" + i)))
            .toArray(String[]::new));
    var before = names.known();
    assertThat(names.count(part("mara"))).isEqualTo(many + 1);
    eventually(() -> names.known() != before);
    assertThat(tells("W-3")).isTrue();
    assertThat(names.count(part("mara"))).isEqualTo(many + 1);
  }

  @Test
  void who_has_not_looked_for_long_reads_all_names_anew() {
    load(ROW.formatted(3, "Mara", "Quoyness-Brae"));
    environment.sql.update("delete from name_change");
    nanos.addAndGet(Duration.ofHours(1).toNanos() + 1);
    var before = names.known();
    hasBoth(names, "ness-brae", "W-3");
    eventually(() -> names.known() != before);
    assertThat(tells("W-3")).isTrue();
  }

  @Test
  void names_that_changed_without_a_word_are_met_within_hours() {
    environment.sql.update(
        "update person set search_name = 'bo maran' where worker_number = 'W-2'");
    var before = names.known();
    for (var minutes = 0; minutes < 7 * 60; minutes += 50) {
      assertThat(names.list(part("quoyness"))).hasSize(1);
      nanos.addAndGet(Duration.ofMinutes(50).toNanos());
    }
    eventually(() -> names.known() != before);
    hasBoth(names, "mar", "W-2", "W-3");
  }

  @Test
  void what_every_replica_knows_is_let_go() {
    environment.sql.update("update name_change set at = at - interval 3 hour");
    load(MARA, ROW.formatted(4, "Tamar", "Quoy"));
    environment.get(NameChanges.class).recurring().getFirst().work().run();
    assertThat(environment.number("select count(*) from name_change")).isOne();
    hasBoth(names, "quoy", "W-3", "W-4");
  }

  @Test
  void every_page_is_the_one_that_the_database_gives() {
    load(
        IntStream.range(0, 60)
            .mapToObj(i -> ROW.formatted(100 + i, i % 3 == 0 ? "Kai" : "Mika", "Dock" + i % 7))
            .toArray(String[]::new));
    for (var down : List.of(false, true)) {
      for (var text : List.of("kai", "ka", "dock3", "a d", "W-1", "%", "_")) {
        @Nullable After after = null;
        do {
          var page = page(text, new Order("name", down), after, 7);
          var rows = names.list(page);
          assertThat(rows).as(text).isEqualTo(people.search(page));
          after = rows.size() < 7 ? null : After.of(rows.getLast());
        } while (after != null);
        assertThat(names.count(part(text))).as(text).isEqualTo(people.count(part(text)));
      }
    }
  }
}
