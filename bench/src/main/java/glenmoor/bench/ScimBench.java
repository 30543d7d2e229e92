package glenmoor.bench;

import glenmoor.standins.applications.ScimApplication;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Executors;
import java.util.concurrent.Semaphore;
import java.util.concurrent.atomic.AtomicInteger;
import tools.jackson.databind.json.JsonMapper;

/**
 * Operations through the SCIM connector, with outbox, leases, read-back and records, against a bare
 * loop of the same HTTP calls (POST and GET for an account; GET, PATCH and GET for a role) with the
 * same number side by side, to the same stand-in.
 */
final class ScimBench {
  private static final int ACCOUNTS = 3_000;
  private static final int OPERATIONS = 2 * ACCOUNTS;
  private static final int PARALLEL = 8;
  private static final int ROUNDS = 3;
  private static final JsonMapper JSON = JsonMapper.shared();

  private ScimBench() {}

  static void run(Bed bed) throws Exception {
    var token = Files.writeString(bed.home().resolve("token"), "for the benchmark");
    var file = bed.home().resolve("scim.csv");
    write(file);
    System.out.printf(
        "scim: %,d operations (create, add a role), each read back, %d side by side, mean of %d rounds%n",
        OPERATIONS, PARALLEL, ROUNDS);
    for (var delay : List.of(Duration.ZERO, Duration.ofMillis(10))) {
      compare(bed, token, file, delay);
    }
  }

  private static void compare(Bed bed, Path token, Path file, Duration delay) throws Exception {
    var ours = 0.0;
    var theirs = 0.0;
    for (var round = 0; round <= ROUNDS; round++) {
      var bare = bare(bed, delay);
      var service = service(bed, token, file, delay);
      if (round > 0) {
        ours += service / ROUNDS;
        theirs += bare / ROUNDS;
      }
    }
    System.out.printf("%nan application that takes %d ms to answer%n", delay.toMillis());
    System.out.printf("%-44s %8.0f operations/s%n", "through the connector", OPERATIONS / ours);
    System.out.printf(
        "%-44s %8.0f operations/s%n",
        "  baseline: bare loop of the same calls", OPERATIONS / theirs);
    System.out.printf("%-44s %8.2f   (aim: at least 0.80)%n", "  ratio", theirs / ours);
  }

  private static ScimApplication application(Bed bed, Duration delay) throws IOException {
    var directory = Files.createDirectories(bed.home().resolve("application"));
    for (var kind : List.of("users", "groups")) {
      Files.deleteIfExists(directory.resolve("bench-" + kind + ".jsonl"));
    }
    var application = new ScimApplication("bench", directory, 0, "for the benchmark", 0, List.of());
    application.delay(delay);
    return application;
  }

  /** Seconds from the first operation sent to the last one recorded as confirmed. */
  private static double service(Bed bed, Path token, Path file, Duration delay) throws Exception {
    try (var application = application(bed, delay);
        var service =
            bed.service(
                Map.of(
                    "BENCH_URL",
                    "http://127.0.0.1:" + application.port() + "/scim/v2",
                    "BENCH_TOKEN",
                    token.toString()))) {
      service.define(DEFINITIONS.formatted(PARALLEL));
      service.load(file);
      String last;
      do {
        Thread.sleep(100);
        last = service.get("/api/v1/operations?state=waiting&limit=1").path("items").toString();
      } while (!last.equals("[]"));
      try (var connection = bed.database("glenmoor_bench");
          var statement = connection.createStatement();
          var result =
              statement.executeQuery(
                  "select count(*), timestampdiff(microsecond, min(sent_at), max(settled_at)) / 1e6 from operation where state = 'confirmed'")) {
        result.next();
        if (result.getInt(1) != OPERATIONS) {
          throw new IllegalStateException(result.getInt(1) + " confirmed");
        }
        return result.getDouble(2);
      }
    }
  }

  private static double bare(Bed bed, Duration delay) throws Exception {
    try (var application = application(bed, delay);
        var http =
            HttpClient.newBuilder()
                .version(HttpClient.Version.HTTP_1_1)
                .executor(Executors.newVirtualThreadPerTaskExecutor())
                .build();
        var threads = Executors.newVirtualThreadPerTaskExecutor()) {
      var url = "http://127.0.0.1:" + application.port() + "/scim/v2/Users";
      var room = new Semaphore(PARALLEL);
      var done = new AtomicInteger();
      var start = System.nanoTime();
      for (var i = 0; i < ACCOUNTS; i++) {
        var name = "u" + i;
        room.acquire();
        threads.submit(() -> {
          try {
            var body =
                "{\"schemas\":[\"urn:ietf:params:scim:schemas:core:2.0:User\"],\"externalId\":\"%s\",\"userName\":\"%s\",\"active\":true,\"displayName\":\"%s\"}"
                    .formatted(name, name, name);
            var made = send(http, request(url).POST(BodyPublishers.ofString(body)));
            var id = JSON.readTree(made).path("id").asString();
            var user = url + "/" + id;
            var seen = JSON.readTree(send(http, request(user).GET()));
            send(http, request(user + "?attributes=roles").GET());
            send(http, request(user).method("PATCH", BodyPublishers.ofString(ADD_ROLE)));
            var held = JSON.readTree(send(http, request(user + "?attributes=roles").GET()));
            if (seen.path("userName").asString().equals(name) && held.path("roles").size() == 1) {
              done.incrementAndGet();
            }
            return null;
          } finally {
            room.release();
          }
        });
      }
      room.acquire(PARALLEL);
      if (done.get() != ACCOUNTS) {
        throw new IllegalStateException(done.get() + " done");
      }
      return (System.nanoTime() - start) / 1e9;
    }
  }

  private static HttpRequest.Builder request(String url) {
    return HttpRequest.newBuilder(URI.create(url))
        .header("Authorization", "Bearer for the benchmark")
        .header("Content-Type", "application/scim+json");
  }

  private static String send(HttpClient http, HttpRequest.Builder request)
      throws IOException, InterruptedException {
    return http.send(request.build(), BodyHandlers.ofString()).body();
  }

  private static void write(Path file) throws IOException {
    try (var out = Files.newBufferedWriter(file)) {
      out.write("worker,given,start\r\n");
      for (var i = 0; i < ACCOUNTS; i++) {
        out.write("u%d,Given,2020-01-01\r\n".formatted(i));
      }
    }
  }

  private static final String ADD_ROLE =
      "{\"schemas\":[\"urn:ietf:params:scim:api:messages:2.0:PatchOp\"],\"Operations\":[{\"op\":\"add\",\"path\":\"roles\",\"value\":[{\"value\":\"SELL\"}]}]}";

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
      settings: {url: '${BENCH_URL}', token-file: '${BENCH_TOKEN}'}
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
