package glenmoor.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import com.unboundid.ldap.sdk.LDAPConnection;
import com.unboundid.ldap.sdk.LDAPException;
import com.unboundid.ldap.sdk.SearchResultEntry;
import com.unboundid.ldap.sdk.SearchScope;
import glenmoor.acceptance.Running.Said;
import java.io.IOException;
import java.io.InputStream;
import java.net.Socket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import java.util.Set;
import java.util.function.BooleanSupplier;
import java.util.stream.Collectors;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * The demo that stories are told to: a real one, with its own MariaDB, slapd and stand-ins, started
 * once and left to the test script to stop. All can be told to one; the script tells those of
 * {@link AnyDay} to another one, beside the months of the rest.
 */
final class Demo {
  static final String BASE = "dc=skerryline,dc=example";
  private static final Duration RETRY_POLICY = Duration.ofSeconds(40);
  private static final HttpClient HTTP = HttpClient.newHttpClient();
  private static final Running RUNNING = start();

  private Demo() {}

  private static Running start() {
    var root = System.getenv("GLENMOOR_TEST_ROOT");
    if (root == null) {
      throw new IllegalStateException(
          "GLENMOOR_TEST_ROOT is not set: run the tests with ./glenmoor test.");
    }
    var home = System.getenv().getOrDefault("GLENMOOR_TEST_DEMO", root + "/.glenmoor/acceptance");
    var running = new Running(Path.of(root), Path.of(home));
    running.glenmoor("reset", "--yes");
    var said = running.glenmoor("demo", "--detach", "--fresh");
    assertThat(said.exit()).as(said.err()).isZero();
    return running;
  }

  static Running running() {
    return RUNNING;
  }

  /** A command that must succeed; gives what it printed. */
  static String glenmoor(String... words) {
    var said = RUNNING.glenmoor(words);
    assertThat(said.exit()).as(said.err() + said.out()).isZero();
    return said.out();
  }

  /** A command that must be refused; gives the sentence. */
  static String refused(String... words) {
    var said = RUNNING.glenmoor(words);
    assertThat(said.exit()).as(said.out()).isEqualTo(1);
    return said.err();
  }

  static JsonNode json(String... words) {
    var all = Arrays.copyOf(words, words.length + 2);
    all[words.length] = "--output";
    all[words.length + 1] = "json";
    return JsonMapper.shared().readTree(glenmoor(all));
  }

  /**
   * Asks the API as the administrator. What is asked again and again until it is so is asked this
   * way: a command takes thirty times as long, and what it would wait for would be itself.
   */
  static JsonNode api(String path) {
    var answer =
        http(
            HttpRequest.newBuilder(URI.create(RUNNING.url() + "/api/v1" + path))
                .header("Authorization", "Bearer " + read(RUNNING.home().resolve("token"))));
    assertThat(answer.statusCode()).as(path + ": " + answer.body()).isEqualTo(200);
    return JsonMapper.shared().readTree(answer.body());
  }

  static Said run(String... command) {
    return RUNNING.run(List.of(command));
  }

  static String feed(String month) {
    return RUNNING.scenario("feeds/" + month + ".csv").toString();
  }

  /** Waits until something is so; fails with the description if it never is. */
  static void eventually(String what, BooleanSupplier so) {
    var until = System.nanoTime() + RETRY_POLICY.toNanos();
    while (!so.getAsBoolean()) {
      assertThat(System.nanoTime()).as("waited in vain for: " + what).isLessThan(until);
      pause();
    }
  }

  static void pause() {
    try {
      Thread.sleep(100);
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
    }
  }

  /** Waits until nothing waits but what stands in tonight's file for the Mishap Book. */
  static void allConfirmed() {
    eventually("all operations confirmed", () -> waiting().isEmpty());
  }

  /** Applications for which operations wait, but the one that takes a file every night. */
  static Set<String> waiting() {
    return api("/operations?state=waiting&limit=200")
        .path("items")
        .valueStream()
        .map(each -> each.path("application").asString())
        .filter(each -> !each.equals("mishap-book"))
        .collect(Collectors.toSet());
  }

  /** The entries of a worker number in the real directory; one, or something is wrong. */
  static List<SearchResultEntry> entries(String worker) {
    try (var directory = directory()) {
      return directory
          .search(
              "ou=people," + BASE,
              SearchScope.SUB,
              "(employeeNumber=" + worker + ")",
              "*",
              "memberOf",
              "pwdAccountLockedTime")
          .getSearchEntries();
    } catch (LDAPException failed) {
      throw new IllegalStateException(failed);
    }
  }

  static SearchResultEntry entry(String worker) {
    var found = entries(worker);
    assertThat(found).as("entries of " + worker).hasSize(1);
    return found.getFirst();
  }

  static List<String> groups(String worker) {
    var values = entry(worker).getAttributeValues("memberOf");
    return values == null
        ? List.of()
        : Arrays.stream(values).map(dn -> dn.replaceAll("cn=([^,]*),.*", "$1")).sorted().toList();
  }

  static boolean locked(String worker) {
    return entry(worker).hasAttribute("pwdAccountLockedTime");
  }

  static LDAPConnection directory() throws LDAPException {
    var at = RUNNING.places().path("directory");
    var url = URI.create(at.path("url").asString());
    return new LDAPConnection(
        url.getHost(), url.getPort(), at.path("bindDn").asString(), read(at.path("passwordFile")));
  }

  static boolean canBind(String dn, String password) {
    var url = URI.create(RUNNING.places().path("directory").path("url").asString());
    try (var own = new LDAPConnection(url.getHost(), url.getPort())) {
      own.bind(dn, password);
      return true;
    } catch (LDAPException refused) {
      return false;
    }
  }

  /** The stand-in's own record of a worker, over plain HTTP. */
  static JsonNode user(String application, String worker) {
    var at = RUNNING.places().path("standins").path(application);
    var url = at.path("url").asString() + "/Users?filter=externalId%20eq%20%22" + worker + "%22";
    var found =
        JsonMapper.shared()
            .readTree(
                http(HttpRequest.newBuilder(URI.create(url))
                        .header("Authorization", "Bearer " + read(at.path("tokenFile"))))
                    .body());
    assertThat(found.path("totalResults").asInt()).isLessThanOrEqualTo(1);
    return found.path("Resources").path(0);
  }

  /** Tells a stand-in how to behave. */
  static void failureMode(String application, String body) {
    var at = RUNNING.places().path("standins").path(application);
    var told =
        http(
            HttpRequest.newBuilder(URI.create(at.path("controlUrl").asString()))
                .header("Authorization", "Bearer " + read(at.path("tokenFile")))
                .POST(BodyPublishers.ofString(body)));
    assertThat(told.statusCode()).as(told.body()).isEqualTo(200);
  }

  static HttpResponse<String> http(HttpRequest.Builder request) {
    try {
      return HTTP.send(request.build(), BodyHandlers.ofString());
    } catch (IOException failed) {
      throw new IllegalStateException(failed);
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
      throw new IllegalStateException(stopped);
    }
  }

  /** Asks without reading the answer: it may be a stream that does not end. */
  static HttpResponse<InputStream> open(HttpRequest.Builder request) {
    try {
      return HTTP.send(request.build(), BodyHandlers.ofInputStream());
    } catch (IOException failed) {
      throw new IllegalStateException(failed);
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
      throw new IllegalStateException(stopped);
    }
  }

  static String read(JsonNode file) {
    return read(Path.of(file.asString()));
  }

  private static String read(Path file) {
    try {
      return Files.readString(file).strip();
    } catch (IOException unreadable) {
      throw new IllegalStateException(unreadable);
    }
  }

  /** Whether something on this machine answers at a port. */
  static boolean answers(int port) {
    try (var socket = new Socket("127.0.0.1", port)) {
      return socket.isConnected();
    } catch (IOException nothing) {
      return false;
    }
  }
}
