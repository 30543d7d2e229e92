package glenmoor.bench;

import java.io.IOException;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Random;
import java.util.Set;
import java.util.function.Consumer;

/**
 * How long lists, a person's page and Today take at 1,000,000 people, each with two grants, an
 * account, two rights, an event, an operation and two entries in the ledger; beside the same at
 * 10,000. Of each it prints the plans by which the database answers: table, index, rows looked at.
 */
final class ListsBench {
  private static final int MANY = 1_000_000;
  private static final int FEW = 10_000;
  private static final int WARM_UP = 20;
  private static final int CALLS = 300;
  private static final Duration NAMES_ARE_READ_IN = Duration.ofSeconds(10);

  private ListsBench() {}

  static void run(BenchmarkEnvironment environment) throws Exception {
    var few = measured(environment, FEW, times -> {});
    measured(environment, MANY, many -> print(few, many));
  }

  private static void print(Map<String, double[]> few, Map<String, double[]> many) {
    System.out.printf(
        "lists: p99 of %d calls each, at %,d people beside %,d (aim: under 50 ms)%n%n",
        CALLS, MANY, FEW);
    System.out.printf("%-52s %10s %10s %10s %8s%n", "what", "p50", "p99", "p99, few", "ratio");
    many.forEach((what, times) -> {
      var before = Objects.requireNonNull(few.get(what));
      System.out.printf(
          "%-52s %7.1f ms %7.1f ms %7.1f ms %8.2f%n",
          what, times[0], times[1], before[1], times[1] / before[1]);
    });
    System.out.println();
  }

  private static Map<String, double[]> measured(
      BenchmarkEnvironment environment, int people, Consumer<Map<String, double[]>> told)
      throws Exception {
    try (var service = environment.service(Map.of())) {
      service.define(PlanBench.FIRST);
      fill(environment, people);
      // All names are read when one is first searched for, and again hours later.
      service.get("/api/v1/people?text=family");
      Thread.sleep(NAMES_ARE_READ_IN);
      var random = new Random(20270301);
      var measured = new LinkedHashMap<String, double[]>();
      for (var each : calls(people, random).entrySet()) {
        measured.put(each.getKey(), times(service, each.getValue()));
      }
      told.accept(measured);
      if (people == MANY) {
        for (var each : calls(people, random).entrySet()) {
          plans(environment, service, each.getKey(), each.getValue().getFirst());
        }
      }
      return measured;
    }
  }

  /** What is asked, by what it is: as many addresses of each as there are calls. */
  private static Map<String, List<String>> calls(int people, Random random) {
    var calls = new LinkedHashMap<String, List<String>>();
    calls.put("people, the first page", many(i -> "/api/v1/people?limit=50"));
    calls.put(
        "people, a page in the middle",
        many(i -> "/api/v1/people?limit=50&after=W-" + random.nextInt(people)));
    calls.put(
        "people, sorted by first day, a page in the middle",
        many(i -> "/api/v1/people?limit=50&sort=-starts&after=W-" + random.nextInt(people)));
    calls.put(
        "people of a department, a page in the middle",
        many(i ->
            "/api/v1/people?limit=50&filter=department:Deck&after=W-" + random.nextInt(people)));
    calls.put(
        "people by the beginning of a worker number",
        many(i -> "/api/v1/people?limit=50&text=W-" + random.nextInt(people)));
    calls.put(
        "people by a part of a name",
        many(i -> "/api/v1/people?limit=50&text=family" + random.nextInt(1_000)));
    calls.put(
        "people by a part of a name that few have",
        many(i -> "/api/v1/people?limit=50&text=y9" + (1_000 + random.nextInt(8_900))));
    calls.put("a person", many(i -> "/api/v1/people/W-" + random.nextInt(people)));
    calls.put(
        "a person's accounts",
        many(i -> "/api/v1/people/W-" + random.nextInt(people) + "/accounts"));
    calls.put(
        "a person's timeline",
        many(i -> "/api/v1/people/W-" + random.nextInt(people) + "/timeline"));
    calls.put(
        "why somebody has something",
        many(i ->
            "/api/v1/people/W-" + random.nextInt(people) + "/why?entitlement=chartshare/charts"));
    calls.put(
        "what the ledger says of a person",
        many(i -> "/api/v1/ledger?limit=50&subject=person:W-" + random.nextInt(people)));
    calls.put("the ledger", many(i -> "/api/v1/ledger?limit=50"));
    calls.put("events", many(i -> "/api/v1/events?limit=40"));
    calls.put("operations", many(i -> "/api/v1/operations?limit=50"));
    calls.put("faults", many(i -> "/api/v1/operations?limit=50&state=fault"));
    calls.put("applications", many(i -> "/api/v1/applications"));
    calls.put("Today", many(i -> "/api/v1/today"));
    calls.put("how much waits for somebody", many(i -> "/api/v1/today/waiting"));
    return calls;
  }

  private interface Address {
    String of(int call);
  }

  private static List<String> many(Address address) {
    var all = new ArrayList<String>();
    for (var i = 0; i < WARM_UP + CALLS; i++) {
      all.add(address.of(i));
    }
    return all;
  }

  /** Median and 99th percentile, in milliseconds. */
  private static double[] times(BenchmarkEnvironment.Service service, List<String> addresses)
      throws Exception {
    var times = new double[CALLS];
    for (var i = 0; i < addresses.size(); i++) {
      var start = System.nanoTime();
      service.get(addresses.get(i));
      if (i >= WARM_UP) {
        times[i - WARM_UP] = (System.nanoTime() - start) / 1e6;
      }
    }
    return new double[] {Bench.percentile(50, times), Bench.percentile(99, times)};
  }

  /** Prints how the database answers each statement of one call, as it was sent. */
  private static void plans(
      BenchmarkEnvironment environment,
      BenchmarkEnvironment.Service service,
      String what,
      String address)
      throws Exception {
    environment.root("truncate table mysql.general_log");
    environment.root("set global log_output = 'TABLE'; set global general_log = 1");
    service.get(address);
    environment.root("set global general_log = 0");
    System.out.println(what);
    try (var connection = environment.database("glenmoor_bench")) {
      for (var sent : sent(environment)) {
        explain(connection, sent);
      }
    }
    System.out.println();
  }

  private static Set<String> sent(BenchmarkEnvironment environment) throws IOException {
    var sent = new LinkedHashSet<String>();
    for (var line :
        environment.root(
            "select convert(argument using utf8mb4) from mysql.general_log where command_type = 'Query' and user_host like 'glenmoor%' order by event_time")) {
      var text = line.replace("\\n", " ").replace("\\t", " ").strip();
      // What recurs asks too; it is none of this call's.
      if (text.startsWith("select ")
          && text.contains(" from ")
          && !text.contains("scheduled_tasks")
          && !text.contains("job_queue")
          && !text.contains("for update")) {
        sent.add(text);
      }
    }
    return sent;
  }

  private static void explain(Connection connection, String sent) {
    try (var statement = connection.createStatement()) {
      try (var rows = statement.executeQuery("explain " + sent)) {
        var first = true;
        while (rows.next()) {
          System.out.printf(
              "  %-24s %-12s %-28s %8s rows  %s%n",
              rows.getString("table"),
              rows.getString("type"),
              rows.getString("key"),
              rows.getString("rows"),
              first ? head(sent) : "");
          first = false;
        }
      }
    } catch (SQLException unexplained) {
      System.out.println("  not explained: " + head(sent));
    }
  }

  private static String head(String sent) {
    var line = sent.replaceAll("\\s+", " ");
    var from = line.indexOf(" from ");
    return from < 0 ? line : line.substring(from + 1, Math.min(line.length(), from + 80));
  }

  private static void fill(BenchmarkEnvironment environment, int people) throws SQLException {
    try (var connection = environment.database("glenmoor_bench");
        var statement = connection.createStatement()) {
      for (var each : FILL.replace("@", String.valueOf(people - 1)).split(";\\s*")) {
        statement.execute(each);
      }
    }
  }

  private static final String FILL =
      """
      insert into person (id, worker_number, worker_key, name, search_name, facts, source, source_digest, starts_on)
      select seq + 1, concat('W-', seq), concat('w-', seq), concat('Given', seq % 97, ' Family', seq % 99991), concat('given', seq % 97, 'family', seq % 99991),
        json_object('given', concat('Given', seq % 97), 'family', concat('Family', seq % 99991), 'department', if(seq % 2, 'Deck', 'Shore'), 'start', '2020-01-01' + interval seq % 2400 day),
        'hr', unhex(md5(seq)), '2020-01-01' + interval seq % 2400 day
      from seq_0_to_@;
      insert into access_grant (id, person_id, target_kind, target_key, basis, basis_key, starts_at)
      select seq + 1, seq div 2 + 1, 'package', if(seq % 2, 'start-kit', 'drawings'), 'birthright', if(seq % 2, 'everyone', 'draughtsmen'), '2026-03-01'
      from (select seq from seq_0_to_@ union all select seq + @ + 1 from seq_0_to_@) twice;
      insert into account (id, person_id, application, base_name, number, name, container, attributes, state, next_sequence)
      select seq + 1, seq + 1, 'chartshare', concat('family', seq), 1, concat('family', seq), '', '{}', 'enabled', 2 from seq_0_to_@;
      insert into holding (account_id, entitlement, desired, observed)
      select seq + 1, 'chartshare/charts', true, true from seq_0_to_@;
      insert into holding (account_id, entitlement, desired, observed)
      select seq + 1, 'chartshare/drawings', true, true from seq_0_to_@;
      insert into event (id, person_id, kind, effective_on, feed_id, changes, detected_at, planned_at)
      select seq + 1, seq + 1, 'joiner', '2026-03-01', 1, '[]', '2026-01-01' + interval seq second, '2026-03-01' from seq_0_to_@;
      insert into operation (id, account_id, person_id, application, event_id, cause, sequence, kind, opens_lane, payload, state, not_before, created_at, settled_at)
      select seq + 1, seq + 1, seq + 1, 'chartshare', seq + 1, 'date', 1, 'create', true, '{"name": "x", "container": "", "attributes": {}, "state": "enabled"}', if(seq % 5000 = 0, 'fault', 'confirmed'), '2026-03-01', '2026-03-01', '2026-03-01' from seq_0_to_@;
      insert into ledger_entry (id, happened_at, actor, cause, subject, what, entry)
      select seq + 1, '2026-01-01' + interval seq second, 'clock', '', concat('person:W-', seq % (@ + 1)), if(seq % 2, 'joiner', 'grant-began'), '{"before":{},"after":{}}'
      from (select seq from seq_0_to_@ union all select seq + @ + 1 from seq_0_to_@) twice;
      analyze table person, access_grant, account, holding, event, operation, ledger_entry\
      """;
}
