package glenmoor.store;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.core.people.FactDefinition;
import glenmoor.core.people.FactDefinition.OnChange;
import glenmoor.core.people.FactType;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Latin;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.people.PersonSearch;
import glenmoor.store.time.ClockMapper;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import javax.sql.DataSource;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;

class PeopleStoreTest {
  private static final PersonMapper PEOPLE = Database.get(PersonMapper.class);
  private static final DataSource DATA = Database.get(DataSource.class);
  private static final JdbcTemplate SQL = new JdbcTemplate(DATA);
  private static final TransactionTemplate TRANSACTIONS =
      new TransactionTemplate(Database.get(PlatformTransactionManager.class));
  private static final LocalDate TODAY = LocalDate.of(2027, 3, 1);
  private static final List<String> COLUMNS =
      List.of(
          "id",
          "worker_number",
          "worker_key",
          "name",
          "search_name",
          "facts",
          "source",
          "0xsource_digest",
          "starts_on",
          "ends_on",
          "leave_from",
          "leave_to",
          "absent_since",
          "due_at",
          "due_cause");

  @BeforeAll
  static void people() {
    SQL.update("delete from person");
    try (var rows = new BulkRows("person", COLUMNS)) {
      row(rows, 1, "Una Kerrow", "Deck", "2020-01-01", null, null, null, null);
      row(
          rows,
          2,
          "Ünal \"Tab\"\tÖz\\",
          "Deck",
          "2027-04-01",
          null,
          null,
          null,
          "2027-03-01 06:00:00");
      row(rows, 3, "Aino Räsänen", "Finance", "2020-01-01", "2027-02-28", null, null, null);
      row(rows, 4, "Bo", "Finance", "2020-01-01", null, "2027-02-01", null, "2027-02-01 06:00:00");
      row(rows, 5, "Bo", "Finance", "2020-01-01", null, null, "2027-02-10", null);
      TRANSACTIONS.executeWithoutResult(status -> rows.send(DATA));
    }
  }

  private static void row(
      BulkRows rows,
      long id,
      String name,
      String department,
      String start,
      @Nullable String end,
      @Nullable String leave,
      @Nullable String absent,
      @Nullable String due) {
    rows.add(
        id,
        "W-" + id,
        "w-" + id,
        name,
        Latin.letters(name),
        "{\"department\":\"" + department + "\",\"manager\":\"W-1\"}",
        "hr",
        "%032x".formatted(id),
        start,
        end,
        leave,
        null,
        absent,
        due,
        "test");
  }

  private static PersonSearch search(
      @Nullable String text, Map<String, String> facts, @Nullable String standing) {
    return PersonSearch.first(text, PEOPLE.isWorker(text), facts, standing, TODAY, null, 50);
  }

  private static List<Long> ids(PersonSearch search) {
    assertThat(PEOPLE.count(search)).isEqualTo(PEOPLE.search(search).size());
    return PEOPLE.search(search).stream().map(PersonRow::id).toList();
  }

  @Test
  void rows_sent_in_bulk_keep_every_character() {
    var row = PEOPLE.byWorker("W-2");
    assertThat(row).isNotNull();
    assertThat(row.name()).isEqualTo("Ünal \"Tab\"\tÖz\\");
    assertThat(row.startsOn()).isEqualTo(LocalDate.of(2027, 4, 1));
    assertThat(row.endsOn()).isNull();
  }

  @Test
  void names_are_found_without_marks_and_in_any_case() {
    assertThat(ids(search("UNA", Map.of(), null))).containsExactly(1L, 2L);
    assertThat(ids(search("rasanen", Map.of(), null))).containsExactly(3L);
    assertThat(ids(search("W-4", Map.of(), null))).containsExactly(4L);
  }

  @Test
  void facts_filter_exactly() {
    assertThat(ids(search(null, Map.of("department", "Deck"), null))).containsExactly(1L, 2L);
    assertThat(ids(search(null, Map.of("department", "Dec"), null))).isEmpty();
  }

  @Test
  void the_standing_in_sql_is_the_standing_in_core() {
    assertThat(ids(search(null, Map.of(), "active"))).containsExactly(1L);
    assertThat(ids(search(null, Map.of(), "expected"))).containsExactly(2L);
    assertThat(ids(search(null, Map.of(), "left"))).containsExactly(3L, 5L);
    assertThat(ids(search(null, Map.of(), "on-leave"))).containsExactly(4L);
  }

  private static List<Long> paged(String by, boolean down) {
    var seen = new ArrayList<Long>();
    PersonSearch.@Nullable After after = null;
    while (true) {
      var order = new PersonSearch.Order(by, down);
      var page =
          PEOPLE.search(
              new PersonSearch(null, false, Map.of(), null, TODAY, null, order, after, 1));
      if (page.isEmpty()) {
        return seen;
      }
      seen.add(page.getFirst().id());
      after = PersonSearch.After.of(page.getFirst());
    }
  }

  @Test
  void pages_by_key_go_over_equal_names_without_losing_one() {
    assertThat(paged("name", false)).containsExactly(3L, 4L, 5L, 1L, 2L);
  }

  @Test
  void pages_lose_nobody_in_any_order_and_are_the_same_the_other_way_round() {
    SQL.update("update person set starts_on = null where id in (2, 4)");
    for (var by : List.of("name", "worker", "starts")) {
      var up = paged(by, false);
      assertThat(up).as(by).containsExactlyInAnyOrder(1L, 2L, 3L, 4L, 5L);
      assertThat(paged(by, true)).as(by + " down").containsExactlyElementsOf(up.reversed());
    }
    assertThat(paged("starts", false)).as("who has no first day is first").startsWith(2L, 4L);
  }

  @Test
  void who_is_due_is_taken_once_and_skipped_by_others_meanwhile() {
    var now = Instant.parse("2027-03-01T07:00:00Z");
    TRANSACTIONS.executeWithoutResult(status -> {
      assertThat(PEOPLE.takeDue(now, 10)).extracting(PersonMapper.Due::id).containsExactly(4L, 2L);
      var other =
          new Thread(() ->
              TRANSACTIONS.executeWithoutResult(
                  s -> takenMeanwhile.addAll(PEOPLE.takeDue(now, 10))));
      other.start();
      try {
        other.join();
      } catch (InterruptedException stopped) {
        Thread.currentThread().interrupt();
      }
    });
    assertThat(takenMeanwhile).isEmpty();
  }

  private final List<PersonMapper.Due> takenMeanwhile = new ArrayList<>();

  @Test
  void the_record_through_time_follows_the_clock_it_is_told() {
    var agenda = Database.get(ClockMapper.class);
    TRANSACTIONS.executeWithoutResult(status -> {
      agenda.recordTimesAt(Instant.parse("2037-01-01T00:00:00Z").getEpochSecond());
      SQL.update("update person set name = 'Una Brill' where id = 1");
    });
    var before =
        "select name from person for system_time as of timestamp '2036-12-31 23:59:59' where id = 1";
    assertThat(SQL.queryForObject(before, String.class)).isEqualTo("Una Kerrow");
    TRANSACTIONS.executeWithoutResult(status -> {
      agenda.recordTimesAt(Instant.parse("2037-01-02T00:00:00Z").getEpochSecond());
      SQL.update("update person set name = 'Una Kerrow' where id = 1");
    });
    SQL.execute("set @@session.timestamp = default");
  }

  @Test
  void identities_of_two_replicas_never_meet() {
    var replicas = Database.get(ReplicaMapper.class);
    var transactions = Database.get(PlatformTransactionManager.class);
    var one = new Ids(replicas, transactions);
    var other = new Ids(replicas, transactions);
    var all = new ArrayList<Long>();
    for (var i = 0; i < 2_000; i++) {
      all.add(one.next());
      all.add(other.next());
    }
    assertThat(all).doesNotHaveDuplicates();
  }

  @Test
  void facts_come_back_with_their_types() {
    var definitions =
        Map.of(
            "grade",
                new FactDefinition(
                    "grade", "g", FactType.NUMBER, false, OnChange.MOVE, 9, Set.of()),
            "start",
                new FactDefinition("start", "s", FactType.DATE, false, OnChange.MOVE, 9, Set.of()),
            "yes",
                new FactDefinition("yes", "y", FactType.YES_NO, false, OnChange.MOVE, 9, Set.of()));
    var facts = Facts.of(Map.of("grade", 3L, "start", TODAY, "yes", true, "bygone", "“é”\n"));
    assertThat(FactsJson.read(FactsJson.write(facts), definitions)).isEqualTo(facts);
  }
}
