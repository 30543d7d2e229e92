package glenmoor.bench;

import java.io.IOException;
import java.net.ServerSocket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublisher;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** What a benchmark stands on: a fresh database and a service on it, as people run it. */
final class BenchmarkEnvironment {
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final String PASSWORD = "for the benchmark only";

  /** Asked more often than this, the questions themselves are felt on two cores. */
  private static final Duration OFTEN = Duration.ofMillis(50);

  private static final Duration AS_THE_CONSOLE = Duration.ofMillis(250);

  private final HttpClient http = HttpClient.newHttpClient();
  private final Path root;
  private final Path home;
  private final int databasePort;

  BenchmarkEnvironment(Path root, Path home, int databasePort) {
    this.root = root;
    this.home = home;
    this.databasePort = databasePort;
  }

  Path home() {
    return home;
  }

  /** The one whole number that a query gives; identities have more digits than a double. */
  static long count(Statement statement, String query) throws SQLException {
    try (var result = statement.executeQuery(query)) {
      result.next();
      return result.getLong(1);
    }
  }

  Connection database(String name) throws SQLException {
    return DriverManager.getConnection(
        "jdbc:mariadb://127.0.0.1:%d/%s?allowLocalInfile=true&timezone=UTC"
            .formatted(databasePort, name),
        "glenmoor",
        read(home.resolve("secrets/database")));
  }

  /** What the database answers its administrator, by its socket: a line a row, tabs between. */
  List<String> root(String statement) throws IOException {
    var socket = Path.of(read(home.resolve("database.home"))).resolve("mariadb.sock");
    var process =
        new ProcessBuilder(
                "mariadb",
                "--no-defaults",
                "-u",
                "root",
                "--socket=" + socket,
                "-N",
                "-B",
                "-e",
                statement)
            .redirectErrorStream(true)
            .start();
    try (var lines = process.inputReader()) {
      return lines.lines().toList();
    }
  }

  private static String read(Path file) {
    try {
      return Files.readString(file).strip();
    } catch (IOException unreadable) {
      throw new IllegalStateException(unreadable);
    }
  }

  /** An empty database of this name. */
  void freshDatabase(String name) throws SQLException {
    try (var connection =
            DriverManager.getConnection(
                "jdbc:mariadb://127.0.0.1:" + databasePort + "/",
                "glenmoor",
                read(home.resolve("secrets/database")));
        var statement = connection.createStatement()) {
      statement.execute("drop database if exists " + name);
      statement.execute("create database " + name + " character set utf8mb4");
    }
  }

  /** Empties tables of the running service's database, as if nothing had ever been in them. */
  void empty(String... tables) throws SQLException {
    try (var connection = database("glenmoor_bench");
        var statement = connection.createStatement()) {
      for (var table : tables) {
        statement.execute("create table empty_one like " + table);
        statement.execute("drop table " + table);
        statement.execute("rename table empty_one to " + table);
      }
    }
  }

  /** Starts the service on an empty database. */
  Service service(Map<String, String> more) throws Exception {
    freshDatabase("glenmoor_bench");
    var port = freePort();
    var environment = new HashMap<>(more);
    environment.put("GLENMOOR_PORT", String.valueOf(port));
    environment.put("GLENMOOR_MANAGEMENT_PORT", "0");
    environment.put("GLENMOOR_DATABASE_PORT", String.valueOf(databasePort));
    environment.put("GLENMOOR_DATABASE_NAME", "glenmoor_bench");
    environment.put("GLENMOOR_DATABASE_PASSWORD_FILE", home.resolve("secrets/database").toString());
    environment.put(
        "GLENMOOR_KEY_FILE",
        Files.writeString(home.resolve("key"), "A".repeat(43) + "=").toString());
    environment.put(
        "GLENMOOR_ADMIN_PASSWORD_FILE",
        Files.writeString(home.resolve("admin"), PASSWORD).toString());
    var builder =
        new ProcessBuilder(
                ProcessHandle.current().info().command().orElse("java"),
                "-Xmx1g",
                "-XX:+UseSerialGC",
                "-jar",
                root.resolve("server/target/glenmoor-service.jar").toString())
            .redirectErrorStream(true)
            .redirectOutput(home.resolve("service.log").toFile());
    builder.environment().putAll(environment);
    var process = builder.start();
    // Whoever ends the benchmark early must not be left with a service.
    Runtime.getRuntime().addShutdownHook(new Thread(process::destroy));
    var service = new Service(process, "http://127.0.0.1:" + port);
    service.await();
    return service;
  }

  static int freePort() throws IOException {
    try (var socket = new ServerSocket(0)) {
      return socket.getLocalPort();
    }
  }

  /** A running service, spoken to as a program does. */
  final class Service implements AutoCloseable {
    private final Process process;
    private final String url;
    private String token = "";

    Service(Process process, String url) {
      this.process = process;
      this.url = url;
    }

    private void await() throws Exception {
      for (var tries = 0; tries < 600; tries++) {
        try {
          var body = JSON.writeValueAsString(Map.of("login", "admin", "password", PASSWORD));
          token =
              send("POST", "/api/v1/tokens", BodyPublishers.ofString(body), "application/json")
                  .path("token")
                  .asString();
          return;
        } catch (IOException | IllegalStateException notYet) {
          Thread.sleep(100);
        }
      }
      throw new IllegalStateException("The service did not start; see " + home + "/service.log");
    }

    String url() {
      return url;
    }

    /** The most memory it has had so far, in megabytes (Linux, proc(5), VmHWM). */
    long mostMemory() throws IOException {
      return Files.readAllLines(Path.of("/proc", String.valueOf(process.pid()), "status")).stream()
          .filter(line -> line.startsWith("VmHWM:"))
          .map(line -> line.replaceAll("\\D", ""))
          .mapToLong(kilobytes -> Long.parseLong(kilobytes) / 1024)
          .findFirst()
          .orElseThrow();
    }

    String token() {
      return token;
    }

    JsonNode get(String path) throws Exception {
      return send("GET", path, BodyPublishers.noBody(), "application/json");
    }

    JsonNode post(String path, Object body) throws Exception {
      var text = JSON.writeValueAsString(body);
      return send("POST", path, BodyPublishers.ofString(text), "application/json");
    }

    private JsonNode send(String method, String path, BodyPublisher body, String type)
        throws IOException, InterruptedException {
      var request =
          HttpRequest.newBuilder(URI.create(url + path))
              .method(method, body)
              .header("Content-Type", type);
      if (!token.isEmpty()) {
        request.header("Authorization", "Bearer " + token);
      }
      var response = http.send(request.build(), BodyHandlers.ofString());
      if (response.statusCode() >= 400) {
        throw new IllegalStateException(response.body());
      }
      return response.body().isEmpty() ? JSON.createObjectNode() : JSON.readTree(response.body());
    }

    void define(String yaml) throws Exception {
      var files = new Object[] {Map.of("name", "bench.yaml", "text", yaml)};
      ended(post("/api/v1/definitions", Map.of("files", files, "replace", true)));
    }

    /** Loads a feed to the end; gives what it came to. */
    JsonNode load(Path file) throws Exception {
      return ended(send("POST", "/api/v1/feeds", BodyPublishers.ofFile(file), "text/csv"));
    }

    /**
     * Compares an application, asking for the end as often as the console does; gives what it came
     * to.
     */
    JsonNode reconcile(String application) throws Exception {
      return ended(
          send(
              "POST",
              "/api/v1/applications/" + application + "/reconcile",
              BodyPublishers.noBody(),
              "application/json"),
          AS_THE_CONSOLE);
    }

    /** Waits for the end of long work; gives what it came to. */
    JsonNode ended(JsonNode accepted) throws Exception {
      return ended(accepted, OFTEN);
    }

    private JsonNode ended(JsonNode accepted, Duration look) throws Exception {
      var work = accepted;
      while (List.of("waiting", "running").contains(work.path("state").asString())) {
        Thread.sleep(look);
        work = get("/api/v1/progress/" + work.path("id").asString());
      }
      if (!work.path("state").asString().equals("done")) {
        throw new IllegalStateException(work.toString());
      }
      return work.path("result");
    }

    @Override
    public void close() {
      process.destroy();
      try {
        process.waitFor();
      } catch (InterruptedException stopped) {
        Thread.currentThread().interrupt();
      }
    }
  }
}
