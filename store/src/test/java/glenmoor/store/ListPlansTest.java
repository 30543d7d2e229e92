package glenmoor.store;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.ledger.LedgerSearch;
import glenmoor.core.lifecycle.EventSearch;
import glenmoor.core.provisioning.OperationSearch;
import glenmoor.store.ledger.LedgerMapper;
import glenmoor.store.lifecycle.EventMapper;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.people.PersonSearch;
import glenmoor.store.provisioning.OperationMapper;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import javax.sql.DataSource;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Lists read little more than they give, on their first page and on their last, however many people
 * there are: counted in rows that the database read.
 */
class ListPlansTest {
  private static final int PEOPLE = 100_000;
  private static final int LIMIT = 50;
  private static final LocalDate TODAY = LocalDate.of(2027, 3, 1);
  private static final JdbcTemplate SQL = new JdbcTemplate(Database.get(DataSource.class));
  private static final TransactionTemplate ONE =
      new TransactionTemplate(Database.get(PlatformTransactionManager.class));

  private final PersonMapper people = Database.get(PersonMapper.class);
  private final OperationMapper operations = Database.get(OperationMapper.class);
  private final EventMapper events = Database.get(EventMapper.class);
  private final LedgerMapper ledger = Database.get(LedgerMapper.class);

  @BeforeAll
  static void many() {
    Database.empty();
    for (var statement :
        """
        insert into person (id, worker_number, worker_key, name, search_name, facts, source, source_digest, starts_on)
        select seq, concat('W-', seq), concat('w-', seq), concat('Una ', seq), concat('una', lpad(seq, 6, '0')),
          json_object('given', 'Una', 'location', if(seq % 2, 'Westholm', 'Tarn Point'), 'manager', concat('W-', seq div 20)),
          if(seq % 10000 = 1, 'partners', 'hr'), unhex(md5(seq)), '2020-01-01' + interval seq % 3000 day
        from seq_1_to_@;
        insert into event (id, person_id, kind, effective_on, feed_id, changes, detected_at)
        select seq, seq, 'joiner', '2027-03-01', 1, '[]', '2027-01-01' + interval seq second from seq_1_to_@;
        insert into account (id, person_id, application, base_name, number, name, container, attributes, state, next_sequence)
        select seq, seq, 'directory', concat('una', seq), 1, concat('una', seq), '', '{}', 'enabled', 2 from seq_1_to_@;
        insert into operation (id, account_id, person_id, application, event_id, cause, sequence, kind, opens_lane, payload, state, not_before, created_at)
        select seq, seq, seq, 'directory', seq, 'date', 1, 'create', true, '{}', 'confirmed', '2027-03-01', '2027-03-01' from seq_1_to_@;
        insert into ledger_entry (id, happened_at, actor, cause, subject, what, entry)
        select seq, '2027-01-01' + interval seq second, if(seq = 7, 'isa', 'clock'), '', concat('person:W-', seq), if(seq = 7, 'feed-loaded', 'grant-began'), '{}' from seq_1_to_@;
        analyze table person, event, account, operation, ledger_entry;
        """
            .replace("@", String.valueOf(PEOPLE))
            .split(";\\s*")) {
      SQL.execute(statement);
    }
  }

  @AfterAll
  static void none() {
    Database.empty();
  }

  private static long read() {
    return Objects.requireNonNull(
        SQL.query(
            "show session status like 'Handler_read%'",
            rows -> {
              var sum = 0L;
              while (rows.next()) {
                sum += rows.getLong(2);
              }
              return sum;
            }));
  }

  /** How many rows the database reads to answer, at most so many times as many as it gives. */
  private static void readsLittle(String what, int times, Runnable list) {
    var rows =
        ONE.execute(status -> {
          var before = read();
          list.run();
          return read() - before;
        });
    assertThat(rows).as(what).isLessThan((long) times * LIMIT);
  }

  private static PersonSearch search(
      Map<String, String> facts, @Nullable String manager, @Nullable String after, long id) {
    return new PersonSearch(
        null, false, facts, null, TODAY, manager, PersonSearch.Order.BY_NAME, at(after, id), LIMIT);
  }

  private static PersonSearch.@Nullable After at(@Nullable String letters, long id) {
    return letters == null
        ? null
        : new PersonSearch.After(
            letters, "w-" + id, LocalDate.of(2020, 1, 1).plusDays(id % 3000), id);
  }

  @Test
  void people_by_name() {
    readsLittle("the first page", 2, () -> people.search(search(Map.of(), null, null, 0)));
    readsLittle(
        "the last page", 3, () -> people.search(search(Map.of(), null, "una099940", 99_940)));
    readsLittle(
        "those at one place",
        5,
        () -> people.search(search(Map.of("location", "Westholm"), null, "una050000", 50_000)));
  }

  /** Ten of a hundred thousand are of the one source, nearly all of the other. */
  @Test
  void people_of_a_source() {
    for (var source : List.of("partners", "hr")) {
      for (var by : List.of("name", "worker", "starts")) {
        var order = new PersonSearch.Order(by, false);
        var search = new PersonSearch(null, false, Map.of(), null, TODAY, null, order, null, LIMIT);
        readsLittle(source + " by " + by, 4, () -> people.search(search.of(source)));
      }
    }
    var few =
        new PersonSearch(
                null, false, Map.of(), null, TODAY, null, PersonSearch.Order.BY_NAME, null, LIMIT)
            .of("partners");
    assertThat(people.search(few)).hasSize(10);
    readsLittle("how many partners", 1, () -> assertThat(people.count(few)).isEqualTo(10));
  }

  @Test
  void people_in_every_order_to_the_last_page() {
    for (var by : new String[] {"name", "worker", "starts"}) {
      for (var down : new boolean[] {false, true}) {
        var order = new PersonSearch.Order(by, down);
        for (var after : new PersonSearch.@Nullable After[] {null, at("una050000", 50_000)}) {
          readsLittle(
              by + (down ? " down" : "") + (after == null ? " at first" : " later"),
              4,
              () ->
                  people.search(
                      new PersonSearch(
                          null, false, Map.of(), null, TODAY, null, order, after, LIMIT)));
        }
      }
    }
  }

  private static PersonSearch.After last(PersonRow row) {
    return new PersonSearch.After(
        "una%06d".formatted(row.id()), row.workerNumber(), row.startsOn(), row.id());
  }

  @Test
  void people_by_a_part_of_their_names_page_by_page_and_each_once() {
    for (var down : new boolean[] {false, true}) {
      var order = new PersonSearch.Order("name", down);
      var found = new ArrayList<String>();
      PersonSearch.@Nullable After after = null;
      List<PersonRow> page;
      do {
        page =
            people.search(
                new PersonSearch(
                    "Una0990", false, Map.of(), null, TODAY, null, order, after, LIMIT));
        page.forEach(row -> found.add(row.name()));
        after = page.isEmpty() ? null : last(page.getLast());
      } while (page.size() == LIMIT && found.size() < PEOPLE);
      assertThat(found)
          .containsExactlyElementsOf(
              SQL.queryForList(
                  "select name from person where search_name like '%una0990%' order by search_name "
                      + (down ? "desc" : ""),
                  String.class))
          .hasSizeGreaterThan(LIMIT);
    }
  }

  @Test
  void people_by_the_beginning_of_a_worker_number() {
    for (var text : new String[] {"W-5", "w-99999", "W-100"}) {
      var order = PersonSearch.Order.BY_WORKER;
      readsLittle(
          text,
          3,
          () ->
              people.search(
                  new PersonSearch(text, true, Map.of(), null, TODAY, null, order, null, LIMIT)));
    }
    readsLittle("nobody's", 1, () -> people.anyWorker("x-1"));
  }

  @Test
  void the_people_of_a_manager() {
    readsLittle("a manager's", 5, () -> people.search(search(Map.of(), "W-4000", null, 0)));
    readsLittle("how many they are", 2, () -> people.countReports("W-4000"));
    readsLittle("what is due of them", 8, () -> people.upcoming(TODAY, TODAY, "W-4000", LIMIT));
  }

  @Test
  void who_starts_or_ends_soon() {
    readsLittle(
        "this week", 12, () -> people.upcoming(LocalDate.of(2027, 3, 1), TODAY, null, LIMIT));
  }

  @Test
  void operations_events_and_the_ledger_newest_first() {
    var late = Instant.parse("2027-01-01T00:01:00Z");
    for (var before : new @Nullable Long[] {null, 60L}) {
      readsLittle(
          "operations before " + before,
          5,
          () ->
              operations.search(
                  new OperationSearch(null, null, null, null, null, before, LIMIT), null));
      readsLittle(
          "events before " + before,
          10,
          () ->
              events.search(
                  new EventSearch(
                      null, null, null, null, null, before == null ? null : late, before, LIMIT)));
      readsLittle(
          "the ledger before " + before,
          2,
          () ->
              ledger.search(
                  new LedgerSearch(null, null, null, before == null ? null : late, before, LIMIT)));
    }
  }

  @Test
  void what_one_person_or_one_hand_did() {
    readsLittle(
        "operations of one",
        2,
        () ->
            operations.search(
                new OperationSearch(null, null, null, "W-77", null, null, LIMIT), null));
    readsLittle(
        "events of one",
        2,
        () -> events.search(new EventSearch(null, null, "W-77", null, null, null, null, LIMIT)));
    readsLittle(
        "by one actor",
        2,
        () -> ledger.search(new LedgerSearch(null, "isa", null, null, null, LIMIT)));
    readsLittle(
        "of one kind",
        2,
        () -> ledger.search(new LedgerSearch(null, null, "feed-loaded", null, null, LIMIT)));
    readsLittle(
        "faults",
        2,
        () ->
            operations.search(
                new OperationSearch(List.of("fault"), null, null, null, null, null, LIMIT), null));
  }
}
