package glenmoor.bench;

import glenmoor.standins.applications.ScimApplication;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;

/**
 * Operations through the SCIM connector, with outbox, leases, read-back and records, against a bare
 * loop of the same HTTP calls ({@link ScimLoop}) with the same number side by side, to the same
 * stand-in.
 */
final class ScimBench {
  private static final Duration LONGEST = Duration.ofMinutes(3);
  private static final int PARALLEL = 8;
  private static final int ROUNDS = 4;

  /** A service that was just started compiles for minutes; a round is like the one before then. */
  private static final int MOST_WARM_UPS = 12;

  private static final double LIKE = 0.08;

  /**
   * One comparison.
   *
   * @param delay how long the application thinks before it answers
   * @param accounts how many a round, two operations each
   */
  private record Case(Duration delay, int accounts) {
    int operations() {
      return 2 * accounts;
    }
  }

  private static final Case AT_ONCE = new Case(Duration.ZERO, 3_000);
  private static final Case SLOWLY = new Case(Duration.ofMillis(10), 800);

  private final BenchmarkEnvironment environment;
  private final BenchmarkEnvironment.Service service;
  private final ScimApplication application;
  private final Path file;
  private int people;

  private ScimBench(
      BenchmarkEnvironment environment,
      BenchmarkEnvironment.Service service,
      ScimApplication application,
      Path file) {
    this.environment = environment;
    this.service = service;
    this.application = application;
    this.file = file;
  }

  static void run(BenchmarkEnvironment environment) throws Exception {
    var secrets = Files.createDirectories(environment.home().resolve("secrets/applications"));
    var token = Files.writeString(secrets.resolve("bench"), "for the benchmark");
    System.out.printf(
        "scim: operations (create, add a role), each read back, %d side by side, mean of %d rounds%n",
        PARALLEL, ROUNDS);
    try (var application = application(environment, Duration.ZERO);
        var service =
            environment.service(
                Map.of(
                    "GLENMOOR_APPLICATION_BENCH_URL",
                    "http://127.0.0.1:" + application.port() + "/scim/v2",
                    "GLENMOOR_SECRETS_DIRECTORY",
                    String.valueOf(token.getParent())))) {
      var bench =
          new ScimBench(environment, service, application, environment.home().resolve("scim.csv"));
      bench.warmUp();
      bench.compare(AT_ONCE);
      bench.compare(SLOWLY);
    }
  }

  private void warmUp() throws Exception {
    var before = Double.MAX_VALUE;
    for (var round = 1; round <= MOST_WARM_UPS; round++) {
      bare(environment, AT_ONCE, ScimLoop.handingOver());
      bare(environment, AT_ONCE, ScimLoop.waiting());
      var took = round(AT_ONCE);
      if (Math.abs(before - took) < LIKE * took) {
        System.out.printf("warm after %d rounds%n", round);
        return;
      }
      before = took;
    }
    System.out.printf("still not quite warm after %d rounds%n", MOST_WARM_UPS);
  }

  private void compare(Case how) throws Exception {
    var ours = 0.0;
    var theirs = 0.0;
    var waiting = 0.0;
    application.delay(how.delay());
    for (var round = 0; round < ROUNDS; round++) {
      theirs += bare(environment, how, ScimLoop.handingOver()) / ROUNDS;
      waiting += bare(environment, how, ScimLoop.waiting()) / ROUNDS;
      ours += round(how) / ROUNDS;
    }
    System.out.printf(
        "%nan application that takes %d ms to answer, %,d operations a round%n",
        how.delay().toMillis(), how.operations());
    System.out.printf(
        "%-44s %8.0f operations/s%n", "through the connector", how.operations() / ours);
    told("  baseline: bare loop of the same calls", how, theirs, ours);
    told("  beside it: such a loop with our own client", how, waiting, ours);
  }

  private static void told(String what, Case how, double theirs, double ours) {
    System.out.printf("%-44s %8.0f operations/s%n", what, how.operations() / theirs);
    System.out.printf("%-44s %8.2f   (aim: at least 0.80)%n", "  ratio", theirs / ours);
  }

  private double round(Case how) throws Exception {
    people += how.accounts();
    write(file, people);
    return service(environment, service, file, how);
  }

  private static ScimApplication application(BenchmarkEnvironment environment, Duration delay)
      throws IOException {
    var directory = Files.createDirectories(environment.home().resolve("application"));
    for (var kind : List.of("users", "groups")) {
      Files.deleteIfExists(directory.resolve("bench-" + kind + ".jsonl"));
    }
    var application = new ScimApplication("bench", directory, 0, "for the benchmark", 0, List.of());
    application.delay(delay);
    return application;
  }

  /** Seconds from the first operation of a feed sent to the last one recorded as confirmed. */
  private static double service(
      BenchmarkEnvironment environment, BenchmarkEnvironment.Service service, Path file, Case how)
      throws Exception {
    try (var connection = environment.database("glenmoor_bench");
        var statement = connection.createStatement()) {
      var before =
          BenchmarkEnvironment.count(statement, "select coalesce(max(id), 0) from operation");
      // Held while the feed is planned for, so that sending is measured and nothing else.
      service.define(DEFINITIONS.formatted(0));
      service.load(file);
      service.define(DEFINITIONS.formatted(PARALLEL));
      var after = " from operation where state = 'confirmed' and id > " + before;
      var until = System.nanoTime() + LONGEST.toNanos();
      while (BenchmarkEnvironment.count(statement, WAITING) > 0) {
        if (System.nanoTime() > until) {
          throw new IllegalStateException("not confirmed within " + LONGEST);
        }
        Thread.sleep(200);
      }
      if (BenchmarkEnvironment.count(statement, "select count(*)" + after) != how.operations()) {
        throw new IllegalStateException("not all are confirmed");
      }
      return BenchmarkEnvironment.count(
              statement, "select timestampdiff(microsecond, min(sent_at), max(settled_at))" + after)
          / 1e6;
    }
  }

  private static double bare(BenchmarkEnvironment environment, Case how, ScimLoop.Client client)
      throws Exception {
    try (client;
        var application = application(environment, how.delay())) {
      return ScimLoop.seconds(
          client,
          "http://127.0.0.1:" + application.port() + "/scim/v2/Users",
          how.accounts(),
          PARALLEL);
    }
  }

  private static void write(Path file, int accounts) throws IOException {
    try (var out = Files.newBufferedWriter(file)) {
      out.write("worker,given,start\r\n");
      for (var i = 0; i < accounts; i++) {
        out.write("u%d,Given,2020-01-01\r\n".formatted(i));
      }
    }
  }

  /** A step in an index: counting what is confirmed costs as much as a hundred operations. */
  private static final String WAITING =
      "select exists (select 1 from operation where state = 'waiting')";

  private static final String DEFINITIONS =
      """
      fact: given
      ---
      fact: start
      type: date
      ---
      source: bench
      worker: worker
      columns: {given: given, start: start}
      ---
      application: bench
      connector: scim
      settings: {url: '${GLENMOOR_APPLICATION_BENCH_URL}', token-file: bench}
      account:
        name: person.worker
        attributes: {displayName: person.worker}
      parallel: %d
      ---
      entitlement: bench/sell
      technical: SELL
      kind: role
      ---
      package: bench
      entitlements: [bench/sell]
      ---
      birthright: everyone
      package: bench
      where: 'true'
      """;
}
