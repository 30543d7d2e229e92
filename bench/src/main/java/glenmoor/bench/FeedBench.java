package glenmoor.bench;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.Map;
import java.util.Random;

/**
 * A feed of 100,000 rows into an empty database, against {@code LOAD DATA LOCAL INFILE} of the same
 * file into one table with the same key; and the same feed with 1 % of its rows changed, against
 * {@code LOAD DATA} into a second table and a difference join. Ours checks every row and keeps
 * people, events and ledger entries; theirs keeps the file's columns.
 */
final class FeedBench {
  private static final int ROWS = 100_000;
  private static final int ROUNDS = 3;
  private static final int WARM_UP = 3;
  private static final int AGAIN = 6;
  private static final List<String> COLUMNS =
      List.of(
          "worker",
          "kind",
          "given",
          "family",
          "department",
          "title",
          "grade",
          "location",
          "manager",
          "start",
          "end");

  private FeedBench() {}

  static void run(BenchmarkEnvironment environment) throws Exception {
    var first = environment.home().resolve("first.csv");
    var changed = environment.home().resolve("changed.csv");
    write(first, -1);
    write(changed, 100);
    var ours = new double[2];
    var theirs = new double[2];
    var rows = 0.0;
    try (var service = environment.service(Map.of())) {
      service.define(DEFINITIONS);
      // Rounds that nobody counts: a service that runs for years is warm, and so is its database.
      for (var round = -WARM_UP; round < ROUNDS; round++) {
        var sql = sql(environment, first, changed);
        var loads = ours(environment, service, first, changed);
        for (var again = 0; again < AGAIN && round < 0; again++) {
          service.load(changed);
        }
        for (var i = 0; i < 2 && round >= 0; i++) {
          ours[i] += loads[i] / ROUNDS;
          theirs[i] += sql[i] / ROUNDS;
        }
        environment.empty("person", "event", "ledger_entry");
        service.load(first);
        if (round == -WARM_UP) {
          KeptRows.write(environment);
        }
        var loaded = KeptRows.load(environment);
        rows += round < 0 ? 0 : loaded / ROUNDS;
      }
    }
    System.out.printf("feed: %,d rows, mean of %d rounds%n%n", ROWS, ROUNDS);
    Bench.compare(
        "first load, with checks, events and ledger",
        ours[0],
        "LOAD DATA into one table",
        theirs[0],
        "within 4.00");
    Bench.compare(
        "first load, with checks, events and ledger",
        ours[0],
        "LOAD DATA of the very rows it keeps",
        rows,
        "within 1.50");
    Bench.compare(
        "the same with 1 % of rows changed",
        ours[1], "LOAD DATA and a difference join", theirs[1], "below 1.00");
  }

  private static double[] ours(
      BenchmarkEnvironment environment,
      BenchmarkEnvironment.Service service,
      Path first,
      Path changed)
      throws Exception {
    environment.empty("person", "event", "ledger_entry");
    var start = System.nanoTime();
    var loaded = service.load(first);
    var one = seconds(start);
    expect(loaded.path("events").path("joiner").asInt(), ROWS);
    start = System.nanoTime();
    loaded = service.load(changed);
    var two = seconds(start);
    expect(loaded.path("events").path("mover").asInt(), ROWS / 100);
    if (!loaded.path("held").isNull()) {
      throw new IllegalStateException("A brake held it, so that nothing was kept: " + loaded);
    }
    return new double[] {one, two};
  }

  private static double[] sql(BenchmarkEnvironment environment, Path first, Path changed)
      throws SQLException {
    environment.freshDatabase("glenmoor_bench_sql");
    try (var connection = environment.database("glenmoor_bench_sql");
        var statement = connection.createStatement()) {
      for (var table : List.of("before_rows", "after_rows")) {
        statement.execute(
            "create table %s (%s, primary key (worker)) engine = innodb default charset = utf8mb4 collate = utf8mb4_bin"
                .formatted(
                    table,
                    String.join(
                        ", ",
                        COLUMNS.stream().map(c -> "`" + c + "` varchar(120) not null").toList())));
      }
      var start = System.nanoTime();
      load(statement, first, "before_rows");
      var one = seconds(start);
      start = System.nanoTime();
      load(statement, changed, "after_rows");
      var differing = 0;
      try (var result =
          statement.executeQuery(
              "select a.* from after_rows a left join before_rows b on b.worker = a.worker where b.worker is null or ("
                  + String.join(", ", COLUMNS.stream().map(c -> "a.`" + c + "`").toList())
                  + ") != ("
                  + String.join(", ", COLUMNS.stream().map(c -> "b.`" + c + "`").toList())
                  + ")")) {
        while (result.next()) {
          differing++;
        }
      }
      expect(differing, ROWS / 100);
      return new double[] {one, seconds(start)};
    }
  }

  private static void load(Statement statement, Path file, String table) throws SQLException {
    statement.execute(
        "load data local infile '%s' into table %s character set utf8mb4 fields terminated by ',' optionally enclosed by '\"' lines terminated by '\\r\\n' ignore 1 lines"
            .formatted(file, table));
  }

  private static double seconds(long start) {
    return (System.nanoTime() - start) / 1e9;
  }

  private static void expect(int found, int wanted) {
    if (found != wanted) {
      throw new IllegalStateException("Expected " + wanted + ", found " + found);
    }
  }

  /** Everyone reports to one of the first thousand; every so many rows has another department. */
  private static void write(Path file, int changeEvery) throws IOException {
    var random = new Random(20270301);
    var departments =
        List.of("Deck & Navigation", "Engine Room", "Terminals", "Freight", "Finance");
    var places = List.of("Hallow Quay", "Inner Skerry", "Tarn Point", "Westholm", "Gull Sound");
    try (var out = Files.newBufferedWriter(file)) {
      out.write(String.join(",", COLUMNS) + "\r\n");
      for (var i = 0; i < ROWS; i++) {
        var department = departments.get(random.nextInt(5));
        var place = places.get(random.nextInt(5));
        out.write(
            "W-%06d,employee,Given%d,Family%d,%s,deckhand number %d,%d,%s,%s,2020-%02d-%02d,\r\n"
                .formatted(
                    i,
                    random.nextInt(3_000),
                    random.nextInt(9_000),
                    changeEvery > 0 && i % changeEvery == 50 ? "Safety" : department,
                    random.nextInt(40),
                    1 + random.nextInt(7),
                    place,
                    i < 1_000 ? "" : "W-%06d".formatted(random.nextInt(1_000)),
                    1 + random.nextInt(12),
                    1 + random.nextInt(28)));
      }
    }
  }

  private static final String DEFINITIONS =
      """
      fact: kind
      on-change: move
      ---
      fact: given
      ---
      fact: family
      ---
      fact: department
      on-change: move
      ---
      fact: title
      on-change: move
      ---
      fact: grade
      type: number
      ---
      fact: location
      on-change: move
      ---
      fact: manager
      type: person
      ---
      fact: start
      type: date
      required: yes
      ---
      fact: end
      type: date
      ---
      brake: feeds
      movers: "100000 or 100 %"
      ---
      source: bench
      worker: worker
      columns: {kind: kind, given: given, family: family, department: department, title: title, grade: grade, location: location, manager: manager, start: start, end: end}
      """;
}
