package glenmoor.bench;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;

/**
 * One feed in which very many have left: from its beginning until all that follows is planned and
 * queued, beside copying the very operations that are queued. Nothing is sent meanwhile.
 */
final class LeaversBench {
  private static final int PEOPLE = 20_000;
  private static final int LEAVERS = 10_000;
  private static final String BRAKE =
      """
      ---
      brake: feeds
      leavers: "20000 or 100 %"
      losing: "20000 or 100 %"
      """;

  /** As if everything had been sent and seen: their accounts are there. */
  private static final String THERE =
      """
      update operation set state = 'confirmed', sent_at = created_at, settled_at = created_at;
      update lane set due_at = null;
      update account set seen_state = state, seen_name = name, seen_attributes = attributes;
      update holding set observed = desired, observed_since = utc_timestamp(6)
      """;

  private LeaversBench() {}

  static void run(BenchmarkEnvironment environment) throws Exception {
    var here = write(environment.home().resolve("here.csv"), 0);
    var gone = write(environment.home().resolve("gone.csv"), LEAVERS);
    try (var service = environment.service(Map.of());
        var connection = environment.database("glenmoor_bench");
        var statement = connection.createStatement()) {
      service.define(
          PlanBench.FIRST
                  .replace("fact: start\n", "fact: end\ntype: date\n---\nfact: start\n")
                  .replace("start: start}", "start: start, end: end}")
              + BRAKE);
      service.load(here);
      PlanBench.waiting(environment);
      for (var each : THERE.split(";\n")) {
        statement.execute(each);
      }
      var before =
          BenchmarkEnvironment.count(statement, "select coalesce(max(id), 0) from operation");
      var memory = service.mostMemory();
      var start = System.nanoTime();
      service.load(gone);
      PlanBench.waiting(environment);
      var ours = (System.nanoTime() - start) / 1e9;
      var queued =
          BenchmarkEnvironment.count(
              statement, "select count(*) from operation where id > " + before);
      if (queued != 2L * LEAVERS) {
        throw new IllegalStateException(queued + " operations");
      }
      statement.execute("create table copied like operation");
      start = System.nanoTime();
      statement.execute("insert into copied select * from operation where id > " + before);
      var theirs = (System.nanoTime() - start) / 1e9;
      statement.execute("drop table copied");
      System.out.printf(
          "leavers: %,d of %,d people leave in one feed; memory rose from %,d to %,d MB%n%n",
          LEAVERS, PEOPLE, memory, service.mostMemory());
      Bench.compare(
          "%,d leavers, planned and queued".formatted(LEAVERS),
          ours,
          "copying the very operations in the database",
          theirs,
          "under 10 s");
    }
  }

  /** A feed in which the first so many have left. */
  private static Path write(Path file, int gone) throws Exception {
    try (var out = Files.newBufferedWriter(file)) {
      out.write("worker,given,family,department,start,end\r\n");
      for (var i = 0; i < PEOPLE; i++) {
        out.write(
            "W-%06d,Given%d,Family%d,Deck,2020-01-01,%s\r\n"
                .formatted(i, i % 97, i % 1_013, i < gone ? "2021-01-01" : ""));
      }
    }
    return file;
  }
}
