package glenmoor.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.URI;
import java.net.http.HttpRequest;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Properties;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;

/** What goes wrong around the service: each time it says what, and how to mend it. */
@AnyDay
@Order(9)
class TroubleTest {
  /** So many rows that a service can be killed while it reads them. */
  private static final int MANY = 10_000;

  private record Ended(int exit, String said) {}

  /** The settings of the running service, some of them changed, for a second one. */
  private static Map<String, String> settings(Map<String, String> changed) throws IOException {
    var lines = new Properties();
    try (var reader = Files.newBufferedReader(Demo.running().home().resolve("service.settings"))) {
      lines.load(reader);
    }
    var settings = new HashMap<String, String>();
    lines.stringPropertyNames().forEach(name -> settings.put(name, lines.getProperty(name)));
    settings.put("GLENMOOR_PORT", "0");
    settings.put("GLENMOOR_MANAGEMENT_PORT", "0");
    settings.putAll(changed);
    return settings;
  }

  /** A second service, from the parts and the archive that the running one started from. */
  private static Process service(Map<String, String> changed, Path log) throws IOException {
    var home = Demo.running().home();
    return service(
        changed,
        log,
        "-XX:SharedArchiveFile=" + home.resolve("service.jsa"),
        "-Xlog:disable",
        "-jar",
        home.resolve("service/glenmoor-service.jar").toString());
  }

  private static Process service(Map<String, String> changed, Path log, String... what)
      throws IOException {
    var command = new ArrayList<String>();
    command.add(ProcessHandle.current().info().command().orElse("java"));
    command.addAll(List.of("-XX:TieredStopAtLevel=1", "-XX:+UseSerialGC"));
    command.addAll(List.of(what));
    var builder =
        new ProcessBuilder(command).redirectErrorStream(true).redirectOutput(log.toFile());
    builder.environment().keySet().removeIf(name -> name.startsWith("GLENMOOR_"));
    builder.environment().putAll(settings(changed));
    return builder.start();
  }

  private static Ended ended(Map<String, String> changed) throws Exception {
    var log = Files.createTempFile("service", ".log");
    var process = service(changed, log);
    try {
      assertThat(process.waitFor(60, TimeUnit.SECONDS)).as("it ends by itself").isTrue();
      return new Ended(process.exitValue(), Files.readString(log));
    } finally {
      process.destroyForcibly();
    }
  }

  @Test
  @Order(1)
  void a_wrong_database_password_is_said_at_once() throws Exception {
    var wrong = Files.writeString(Files.createTempFile("password", ""), "wrong");
    var ended = ended(Map.of("GLENMOOR_DATABASE_PASSWORD_FILE", wrong.toString()));
    assertThat(ended.exit()).isEqualTo(1);
    assertThat(ended.said())
        .contains("MariaDB refuses the user glenmoor")
        .contains("GLENMOOR_DATABASE_PASSWORD_FILE");
  }

  @Test
  @Order(2)
  void a_database_that_takes_no_rows_in_bulk_is_said_at_once() throws Exception {
    root("set global local_infile = 0");
    try {
      var ended = ended(Map.of());
      assertThat(ended.exit()).isEqualTo(1);
      assertThat(ended.said()).contains("set global local_infile = 1");
    } finally {
      root("set global local_infile = 1");
    }
  }

  @Test
  @Order(3)
  void every_wrong_setting_is_said_at_once() throws Exception {
    var ended =
        ended(
            Map.of(
                "GLENMOOR_ZONE", "Atlantis",
                "GLENMOOR_DATABASE_PORT", "many",
                "GLENMOOR_KEY_FILE", "/nowhere"));
    assertThat(ended.exit()).isEqualTo(2);
    assertThat(ended.said())
        .contains("GLENMOOR_ZONE is “Atlantis”")
        .contains("GLENMOOR_DATABASE_PORT is “many”")
        .contains("GLENMOOR_KEY_FILE names /nowhere");
  }

  @Test
  @Order(4)
  void a_taken_port_is_named() throws Exception {
    try (var taken = new ServerSocket(0)) {
      var ended = ended(Map.of("GLENMOOR_PORT", String.valueOf(taken.getLocalPort())));
      assertThat(ended.exit()).isEqualTo(1);
      assertThat(ended.said())
          .contains("The port " + taken.getLocalPort() + " is taken")
          .contains("GLENMOOR_PORT");
    }
  }

  @Test
  @Order(5)
  void a_broken_definition_file_says_file_line_and_what_to_do() throws Exception {
    var file = Files.createTempFile("broken", ".yaml");
    Files.writeString(file, "birthright: x\npackage: start-kit\nwhere: 'person.grad > 3'\n");
    assertThat(Demo.refused("define", "load", file.toString()))
        .contains(file.getFileName() + " line 3")
        .contains("there is no fact grad");
    Files.writeString(file, "birthright: x\n  package: [\n");
    assertThat(Demo.refused("define", "check", file.toString())).contains("This is no YAML");
  }

  @Test
  @Order(6)
  void a_service_that_starts_while_the_database_is_away_waits_for_it() throws Exception {
    int free;
    try (var socket = new ServerSocket(0)) {
      free = socket.getLocalPort();
    }
    var log = Files.createTempFile("service", ".log");
    // As it is shipped: one jar.
    var jar = Path.of(System.getenv("GLENMOOR_TEST_ROOT"), "server/target/glenmoor-service.jar");
    var process =
        service(
            Map.of("GLENMOOR_DATABASE_PORT", String.valueOf(free)), log, "-jar", jar.toString());
    try {
      Demo.eventually("it says that it waits", () -> read(log).contains("does not answer yet"));
      assertThat(process.isAlive()).isTrue();
    } finally {
      process.destroyForcibly();
    }
  }

  @Test
  @Order(6)
  void behind_a_proxy_with_tls_browsers_are_told_to_stay_with_it() throws Exception {
    int free;
    try (var socket = new ServerSocket(0)) {
      free = socket.getLocalPort();
    }
    var log = Files.createTempFile("service", ".log");
    var process =
        service(
            Map.of(
                "GLENMOOR_PORT", String.valueOf(free),
                "GLENMOOR_BEHIND_PROXY", "yes",
                "GLENMOOR_SECURE_COOKIES", "yes"),
            log);
    var page = HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + free + "/api/v1/session"));
    try {
      Demo.eventually("it answers", () -> Demo.answers(free));
      var plain = Demo.http(page).headers();
      assertThat(plain.firstValue("Strict-Transport-Security")).isEmpty();
      var secure = Demo.http(page.header("X-Forwarded-Proto", "https")).headers();
      assertThat(secure.firstValue("Strict-Transport-Security")).isPresent();
      assertThat(secure.allValues("Set-Cookie")).isNotEmpty().allMatch(it -> it.contains("Secure"));
    } finally {
      process.destroyForcibly();
    }
  }

  private static String read(Path file) {
    try {
      return Files.readString(file);
    } catch (IOException unreadable) {
      throw new IllegalStateException(unreadable);
    }
  }

  @Test
  @Order(7)
  void when_the_database_goes_away_under_it_the_service_goes_on_by_itself() throws Exception {
    var before = Demo.json("people", "list", "--count").path("total").asInt();
    var home = Demo.running().home();
    var pid = Files.readString(home.resolve("database.pid")).strip();
    assertThat(Demo.run("kill", pid).exit()).isZero();
    Demo.eventually("the database gone", () -> !Files.exists(Path.of("/proc", pid)));
    assertThat(Demo.refused("people", "list")).contains("The database does not answer");
    // Starts only what is not running: the database, not the service.
    var service = Demo.running().status().path("service").path("pid").asString();
    Demo.glenmoor("demo", "--detach");
    assertThat(Demo.running().status().path("service").path("pid").asString()).isEqualTo(service);
    assertThat(Demo.json("people", "list", "--count").path("total").asInt()).isEqualTo(before);
    Demo.glenmoor("feeds", "load", Demo.feed("2027-06"));
    Demo.allConfirmed();
  }

  private static void root(String statement) {
    Demo.running().sql(statement);
  }

  @Test
  @Order(8)
  void a_database_that_takes_no_changes_is_said_so() {
    root("set global read_only = 1");
    try {
      assertThat(Demo.refused("feeds", "load", Demo.feed("2027-06")))
          .contains("The database is read-only at the moment, so nothing was changed");
      assertThat(Demo.json("people", "list", "--limit", "1").path("items"))
          .as("reading goes on")
          .hasSize(1);
    } finally {
      root("set global read_only = 0");
    }
    Demo.glenmoor("feeds", "load", Demo.feed("2027-06"));
  }

  @Test
  @Order(9)
  void a_job_that_a_killed_service_had_picked_is_taken_over_within_half_a_minute() {
    root(
        "update scheduled_tasks set picked = 1, picked_by = 'a service that was killed', last_heartbeat = utc_timestamp(6), version = version + 1 where task_name = 'sweep'");
    var until = System.nanoTime() + Duration.ofSeconds(30).toNanos();
    while (picked()) {
      assertThat(System.nanoTime()).as("the sweep is still held by the dead").isLessThan(until);
      Demo.pause();
    }
  }

  @Test
  @Order(11)
  void work_whose_service_is_killed_is_done_by_the_next_one_under_its_number() throws Exception {
    var lines = Files.readAllLines(Path.of(Demo.feed("2027-06")));
    var many = new StringBuilder(lines.getFirst());
    var worker = lines.get(1).split(",", 2)[0];
    for (var number = 0; number < MANY; number++) {
      many.append("\r\n").append(lines.get(1).replace(worker, "K-%05d".formatted(number)));
    }
    var file = Files.writeString(Files.createTempFile("many", ".csv"), many);
    var said =
        CompletableFuture.supplyAsync(
            () -> Demo.running().glenmoor("feeds", "load", file.toString(), "--forecast"));
    Demo.eventually("the work goes on", () -> !running().isEmpty());
    var work = running();
    var pid = Demo.running().status().path("service").path("pid").asString();
    assertThat(Demo.run("kill", "-KILL", pid).exit()).isZero();
    Demo.eventually("the service gone", () -> !Files.exists(Path.of("/proc", pid)));
    Demo.glenmoor("demo", "--detach");
    var open = Demo.json("work", "list", "--open").path("items");
    assertThat(open.path(0).path("id").asString("")).as("not lost, and not done").isEqualTo(work);
    var ended = Demo.json("work", "follow", work);
    assertThat(ended.path("state").asString()).isEqualTo("done");
    assertThat(ended.path("result").path("rows").asInt()).isEqualTo(MANY);
    assertThat(said.get().out()).as("the command went on too").contains("Of " + MANY + " rows");
  }

  /** The number of the work that goes on, or nothing. */
  private static String running() {
    return Demo.api("/progress?open=true").path("items").path(0).path("id").asString("");
  }

  private static boolean picked() {
    return !Demo.running()
        .sql(
            "select count(*) from scheduled_tasks where task_name = 'sweep' and picked_by = 'a service that was killed'")
        .equals("0");
  }

  @Test
  @Order(10)
  void when_a_port_moves_the_running_service_learns_it() throws Exception {
    var home = Demo.running().home();
    var pid = Files.readString(home.resolve("standins.pid")).strip();
    var port = URI.create(chartshare()).getPort();
    assertThat(Demo.run("kill", pid).exit()).isZero();
    Demo.eventually("the stand-ins gone", () -> !Files.exists(Path.of("/proc", pid)));
    try (var taken = new ServerSocket(port, 1, InetAddress.getLoopbackAddress())) {
      Demo.glenmoor("demo", "--detach");
      assertThat(URI.create(chartshare()).getPort()).isNotEqualTo(taken.getLocalPort());
      assertThat(Demo.glenmoor("applications", "test", "chartshare")).contains("Chartshare");
    }
  }

  private static String chartshare() {
    return Demo.running().status().path("standins").path("chartshare").path("url").asString();
  }
}
