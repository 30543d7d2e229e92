package glenmoor.bench;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.Map;

/**
 * Planning everybody anew after a birthright came: so many people a second with planners side by
 * side, beside one planner alone. Their operations wait, so that planning is measured and nothing
 * else.
 */
final class PlanBench {
  private static final int PEOPLE = 100_000;
  static final String FIRST =
      """
      fact: given
      type: text
      ---
      fact: family
      type: text
      ---
      fact: department
      type: text
      on-change: move
      ---
      fact: start
      type: date
      required: yes
      ---
      source: hr
      worker: worker
      columns: {given: given, family: family, department: department, start: start}
      ---
      application: chartshare
      connector: scim
      parallel: 0
      settings: {url: "http://127.0.0.1:9/scim/v2"}
      account: {name: "slug(person.family) + person.worker"}
      ---
      entitlement: chartshare/charts
      ---
      entitlement: chartshare/drawings
      ---
      package: start-kit
      entitlements: [chartshare/charts]
      ---
      package: drawings
      entitlements: [chartshare/drawings]
      ---
      birthright: everyone
      package: start-kit
      where: person.department != ""
      """;
  private static final String MORE =
      """
      ---
      birthright: draughtsmen
      package: drawings
      where: person.department != "Nowhere"
      """;

  private PlanBench() {}

  static void run(BenchmarkEnvironment environment) throws Exception {
    var file = write(environment.home().resolve("plan.csv"), PEOPLE);
    var alone = planned(environment, file, 1);
    var together = planned(environment, file, 2);
    System.out.printf(
        "plan: %,d people planned anew after a birthright came: %,.0f a second side by side, %,.0f alone%n%n",
        PEOPLE, PEOPLE / together, PEOPLE / alone);
    Bench.compare("planned by two side by side", together, "by one alone", alone, "below 1.00");
  }

  private static double planned(BenchmarkEnvironment environment, Path file, int planners)
      throws Exception {
    try (var service = environment.service(Map.of("GLENMOOR_PLANNERS", String.valueOf(planners)))) {
      service.define(FIRST);
      service.load(file);
      waiting(environment);
      var start = System.nanoTime();
      service.define(FIRST + MORE);
      waiting(environment);
      var seconds = (System.nanoTime() - start) / 1e9;
      try (var connection = environment.database("glenmoor_bench");
          var statement = connection.createStatement();
          var result =
              statement.executeQuery(
                  "select count(*) from holding where entitlement = 'chartshare/drawings' and desired")) {
        result.next();
        if (result.getInt(1) != PEOPLE) {
          throw new IllegalStateException(result.getInt(1) + " of them have it");
        }
      }
      return seconds;
    }
  }

  /** Waits until nobody is due. */
  static void waiting(BenchmarkEnvironment environment) throws SQLException, InterruptedException {
    try (var connection = environment.database("glenmoor_bench");
        var statement = connection.createStatement()) {
      while (true) {
        try (var result =
            statement.executeQuery(
                "select exists (select 1 from person where due_at <= utc_timestamp(6))")) {
          result.next();
          if (!result.getBoolean(1)) {
            return;
          }
        }
        Thread.sleep(50);
      }
    }
  }

  /** A feed of so many people. */
  static Path write(Path file, int people) throws Exception {
    try (var out = Files.newBufferedWriter(file)) {
      out.write("worker,given,family,department,start\r\n");
      for (var i = 0; i < people; i++) {
        out.write(
            "W-%06d,Given%d,Family%d,%s,2020-01-01\r\n"
                .formatted(i, i % 97, i % 1_013, i % 2 == 0 ? "Deck" : "Shore"));
      }
    }
    return file;
  }
}
