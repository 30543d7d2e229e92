package glenmoor.bench;

import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse.BodyHandlers;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.atomic.AtomicInteger;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Ten thousand requests asked for and agreed to through the API by 64 clients, beside the bare
 * inserts and updates of the rows that this leaves, by as many clients over as many connections as
 * the service has.
 */
final class RequestsBench {
  private static final int REQUESTS = 10_000;
  private static final int WARM = 1_000;
  private static final int CLIENTS = 64;
  private static final int CONNECTIONS = 20;
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final String ASKING =
      """
      ---
      route: owner
      stages: [{ask: line-manager}]
      ---
      offer: drawings
      package: drawings
      asked-by: [person]
      route: owner
      reason: optional
      """;

  private final BenchmarkEnvironment.Service service;
  private final HttpClient http =
      HttpClient.newBuilder()
          .version(HttpClient.Version.HTTP_1_1)
          .connectTimeout(Duration.ofSeconds(10))
          .build();

  private final String decider;

  private RequestsBench(BenchmarkEnvironment.Service service) throws Exception {
    this.service = service;
    decider = second();
  }

  /** A token of a second administrator: nobody decides on what they ask for. */
  private String second() throws Exception {
    var password = "for this benchmark only";
    var made =
        http.send(
            HttpRequest.newBuilder(URI.create(service.url() + "/api/v1/sign-ins/second"))
                .header("Content-Type", "application/json")
                .header("Authorization", "Bearer " + service.token())
                .PUT(
                    BodyPublishers.ofString(
                        "{\"password\": \"%s\", \"passwordStays\": true, \"duties\": [\"administrator\"]}"
                            .formatted(password)))
                .build(),
            BodyHandlers.ofString());
    if (made.statusCode() >= 300) {
      throw new IllegalStateException(made.body());
    }
    return post(
            "/api/v1/tokens",
            "{\"login\": \"second\", \"password\": \"%s\"}".formatted(password),
            "")
        .path("token")
        .asString();
  }

  static void run(BenchmarkEnvironment environment) throws Exception {
    double ours;
    double[] times;
    try (var service = environment.service(Map.of())) {
      service.define(PlanBench.FIRST + ASKING);
      service.load(PlanBench.write(environment.home().resolve("requests.csv"), REQUESTS + WARM));
      PlanBench.waiting(environment);
      var bench = new RequestsBench(service);
      bench.asked(0, WARM);
      var start = System.nanoTime();
      times = bench.asked(WARM, REQUESTS);
      ours = (System.nanoTime() - start) / 1e9;
      counted(environment);
    }
    var bare = bare(environment);
    System.out.printf(
        "requests: %,d asked for and agreed to by %d clients: %,.0f a second, p99 of both calls together %.0f ms%n%n",
        REQUESTS, CLIENTS, REQUESTS / ours, Bench.percentile(99, times) * 1e3);
    Bench.compare(
        "asked for and agreed to through the API", ours, "the same rows, bare", bare, "below 5");
  }

  /** Asks for so many people, and agrees; gives how long each pair of calls took, in seconds. */
  private double[] asked(int from, int number) throws Exception {
    var times = new double[number];
    each(
        number,
        i -> {
          var start = System.nanoTime();
          var worker = "W-%06d".formatted(from + i);
          var made =
              post(
                  "/api/v1/requests",
                  "{\"lines\": [{\"offer\": \"drawings\", \"worker\": \"%s\", \"reason\": \"bench\"}]}"
                      .formatted(worker),
                  service.token());
          post(
              "/api/v1/approvals/" + made.path("lines").get(0).path("id").asString(),
              "{\"decision\": \"approve\", \"inPlaceOf\": \"anybody\", \"reason\": \"bench\"}",
              decider);
          times[i] = (System.nanoTime() - start) / 1e9;
        });
    return times;
  }

  private JsonNode post(String path, String body, String token) throws Exception {
    var request =
        HttpRequest.newBuilder(URI.create(service.url() + path))
            .header("Content-Type", "application/json")
            .POST(BodyPublishers.ofString(body));
    if (!token.isEmpty()) {
      request.header("Authorization", "Bearer " + token);
    }
    var answer = http.send(request.build(), BodyHandlers.ofString());
    if (answer.statusCode() >= 300) {
      throw new IllegalStateException(path + ": " + answer.body());
    }
    return JSON.readTree(answer.body());
  }

  private interface Piece {
    void run(int number) throws Exception;
  }

  private static void each(int number, Piece piece) throws Exception {
    var next = new AtomicInteger();
    try (var clients = Executors.newVirtualThreadPerTaskExecutor()) {
      List<Future<?>> all = new ArrayList<>();
      for (var client = 0; client < CLIENTS; client++) {
        all.add(
            clients.submit(() -> {
              for (var i = next.getAndIncrement(); i < number; i = next.getAndIncrement()) {
                piece.run(i);
              }
              return null;
            }));
      }
      for (var each : all) {
        each.get();
      }
    }
  }

  private static void counted(BenchmarkEnvironment environment) throws SQLException {
    try (var connection = environment.database("glenmoor_bench");
        var statement = connection.createStatement();
        var result =
            statement.executeQuery(
                "select count(*) from access_grant where basis = 'request' and target_key = 'drawings'")) {
      result.next();
      if (result.getInt(1) != REQUESTS + WARM) {
        throw new IllegalStateException(result.getInt(1) + " were given");
      }
    }
  }

  /** The rows that asking and agreeing leave, copied in as many transactions. */
  private static double bare(BenchmarkEnvironment environment) throws Exception {
    var connections = new ArrayBlockingQueue<Connection>(CONNECTIONS);
    try {
      for (var i = 0; i < CONNECTIONS; i++) {
        var connection = environment.database("glenmoor_bench");
        connection.setAutoCommit(false);
        connections.add(connection);
      }
      var start = System.nanoTime();
      each(
          REQUESTS,
          i -> {
            var connection = connections.take();
            try {
              asks(connection, i + 1);
              connection.commit();
              agrees(connection, i + 1);
              connection.commit();
            } finally {
              connections.add(connection);
            }
          });
      return (System.nanoTime() - start) / 1e9;
    } finally {
      for (var connection : connections) {
        connection.close();
      }
    }
  }

  private static void asks(Connection connection, int id) throws SQLException {
    execute(
        connection,
        "insert into request (id, asked_by, asker_id, asked_at) values (%d, 'admin', null, utc_timestamp(6))"
            .formatted(id),
        "insert into request_line (id, request_id, kind, person_id, offer, package_key, route, reason, answers, selected, term, conflicts, state, end_reason, manager_key, catalogue, looked_at, open_key) values (%1$d, %1$d, 'new', %1$d, 'drawings', 'drawings', 'owner', '', '{}', '[]', 'open', '[]', 'open', '', '', 1, utc_timestamp(6), 'bench:%1$d')"
            .formatted(id),
        "insert into request_stage (line_id, number, said, state, opened_at, since) values (%d, 0, '{\"ask\":\"line-manager\"}', 'open', utc_timestamp(6), utc_timestamp(6))"
            .formatted(id),
        "insert into request_note (id, request_id, line_id, stage, at, by_login, what, text) values (%1$d, %1$d, %1$d, 0, utc_timestamp(6), 'glenmoor', 'nobody', 'Nobody who is asked here could act: an administrator has to decide.')"
            .formatted(id),
        ledger(id, "requested"));
  }

  private static void agrees(Connection connection, int id) throws SQLException {
    execute(
        connection,
        "update request_line set state = 'approved', ended_at = utc_timestamp(6), open_key = null, revision = revision + 1 where id = "
            + id,
        "update request_stage set state = 'met', settled_at = utc_timestamp(6), settled_login = 'admin' where line_id = "
            + id,
        "insert into request_note (id, request_id, line_id, stage, at, by_login, what, text) values (%1$d, %2$d, %2$d, 0, utc_timestamp(6), 'admin', 'approve', 'bench')"
            .formatted(id + 1_000_000, id),
        "insert into request_note (id, request_id, line_id, stage, at, by_login, what, text) values (%1$d, %2$d, %2$d, null, utc_timestamp(6), 'admin', 'approved', '')"
            .formatted(id + 2_000_000, id),
        "insert into access_grant (id, person_id, target_kind, target_key, basis, basis_key, starts_at) values (%1$d, %1$d, 'package', 'drawings', 'request', 'drawings#%1$d', utc_timestamp(6))"
            .formatted(id),
        "update person set due_at = utc_timestamp(6) where worker_key = 'w-%06d'".formatted(id),
        ledger(id + 1_000_000, "grant-began"),
        ledger(id + 2_000_000, "request-approved"),
        ledger(id + 3_000_000, "request-decision"));
  }

  private static String ledger(int id, String what) {
    return "insert into ledger_entry (id, happened_at, actor, cause, subject, what, entry) values (%d, utc_timestamp(6), 'admin', 'request:1', 'person:W-1', '%s', '{\"package\":\"drawings\",\"reason\":\"bench\"}')"
        .formatted(id, what);
  }

  private static void execute(Connection connection, String... statements) throws SQLException {
    try (var statement = connection.createStatement()) {
      for (var each : statements) {
        statement.execute(each);
      }
    }
  }
}
