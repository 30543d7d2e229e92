package glenmoor.standins.applications;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import com.unboundid.scim2.common.exceptions.ScimException;
import glenmoor.standins.applications.FailureMode.Mode;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicLong;

/**
 * A service application that speaks SCIM 2.0 (RFC 7643, RFC 7644): users, groups, filters, paging,
 * PATCH and versions. {@code POST /control} tells it to fail, with the same token.
 */
public final class ScimApplication implements AutoCloseable {
  private static final ObjectMapper JSON = new ObjectMapper();
  private static final String SCIM = "application/scim+json";
  private static final String ERROR = "urn:ietf:params:scim:api:messages:2.0:Error";

  private final String key;
  private final String token;
  private final ScimDoor door;
  private final HttpServer server;
  private final AtomicLong requests = new AtomicLong();
  private volatile FailureMode failureMode = FailureMode.WELL;
  private volatile long delayMillis;
  private volatile String retryAfter = "2";

  /**
   * Starts it.
   *
   * @param directory where to keep journals
   * @param port 0 for a free one
   * @param seats how many active users it allows, 0 for any number
   * @param groupNames groups that are there from the beginning
   */
  public ScimApplication(
      String key, Path directory, int port, String token, int seats, List<String> groupNames)
      throws IOException {
    this.key = key;
    this.token = token;
    door = new ScimDoor(key, directory, seats, groupNames);
    server = HttpServer.create(new InetSocketAddress("127.0.0.1", port), 0);
    server.createContext("/scim/v2/", this::scim);
    server.createContext("/control", this::control);
    server.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
    server.start();
  }

  public int port() {
    return server.getAddress().getPort();
  }

  private void control(HttpExchange exchange) throws IOException {
    try (exchange) {
      if (!isKnown(exchange)) {
        send(exchange, 401, error(401, "This token is not known here."), Map.of());
        return;
      }
      if (exchange.getRequestMethod().equals("POST")) {
        var body = JSON.readTree(exchange.getRequestBody());
        var mode =
            Mode.valueOf(
                body.path("mode").asText("well").toUpperCase(Locale.ROOT).replace('-', '_'));
        var seconds = body.path("seconds").asLong(0);
        delayMillis = body.path("delayMillis").asLong(0);
        retryAfter = body.path("retryAfter").asText("2");
        failureMode =
            new FailureMode(
                mode,
                body.path("reason").asText("refused on request"),
                seconds == 0 ? Instant.MAX : Instant.now().plusSeconds(seconds));
      }
      var state = JSON.createObjectNode();
      state.put("application", key);
      state.put("mode", failureMode.now().mode().word());
      state.put("users", door.users());
      state.put("active", door.active());
      state.put("requests", requests.get());
      send(exchange, 200, state, Map.of());
    } catch (IllegalArgumentException unknown) {
      send(
          exchange,
          400,
          JSON.createObjectNode()
              .put(
                  "detail",
                  "mode is one of " + Arrays.stream(Mode.values()).map(Mode::word).toList()),
          Map.of());
    }
  }

  private void scim(HttpExchange exchange) throws IOException {
    requests.incrementAndGet();
    var now = failureMode.now();
    if (now.mode() == Mode.DOWN) {
      exchange.close();
      return;
    }
    try (exchange) {
      try {
        failing(exchange, now);
        if (!unreal(exchange, now)) {
          door.answer(exchange, now.mode());
        }
      } catch (ScimDoor.Wrong wrong) {
        var headers =
            wrong.status() == 429 ? Map.of("Retry-After", retryAfter) : Map.<String, String>of();
        send(
            exchange,
            wrong.status(),
            error(wrong.status(), String.valueOf(wrong.getMessage())),
            headers);
      } catch (ScimException bad) {
        var status = bad.getScimError().getStatus();
        send(exchange, status, error(status, String.valueOf(bad.getMessage())), Map.of());
      } catch (JsonProcessingException bad) {
        send(exchange, 400, error(400, "The body is no JSON."), Map.of());
      }
    }
  }

  private boolean isKnown(HttpExchange exchange) {
    return ("Bearer " + token).equals(exchange.getRequestHeaders().getFirst("Authorization"));
  }

  private void failing(HttpExchange exchange, FailureMode now) throws ScimDoor.Wrong {
    if (!isKnown(exchange)) {
      throw new ScimDoor.Wrong(401, "This token is not known here.");
    }
    var changes = !exchange.getRequestMethod().equals("GET");
    pause(Duration.ofMillis(delayMillis));
    switch (now.mode()) {
      case BROKEN -> throw new ScimDoor.Wrong(500, "Something broke.");
      case BUSY -> throw new ScimDoor.Wrong(429, "Too many requests.");
      case REFUSE -> {
        if (changes) {
          throw new ScimDoor.Wrong(400, now.reason());
        }
      }
      case STALL -> pause(FailureMode.STALL_FOR);
      case FORBID -> throw new ScimDoor.Wrong(403, "This token may not do this.");
      case NO_PATCH -> {
        if (exchange.getRequestMethod().equals("PATCH")) {
          throw new ScimDoor.Wrong(501, "PATCH is not offered here.");
        }
      }
      case WELL,
          DOWN,
          FORGET,
          SIGN_IN_PAGE,
          NOT_FOUND_PAGE,
          ANOTHER,
          EMPTY,
          HALF,
          IGNORE_FILTERS,
          ADD_ON_REPLACE,
          NO_MEMBER_FILTERS -> {}
    }
  }

  /** Answers that are no SCIM; whether one was given. */
  private static boolean unreal(HttpExchange exchange, FailureMode now) throws IOException {
    switch (now.mode()) {
      case SIGN_IN_PAGE -> page(exchange, 200, "Sign in to Chartshare");
      case NOT_FOUND_PAGE -> page(exchange, 404, "Nothing is here");
      case EMPTY -> exchange.sendResponseHeaders(200, -1);
      case HALF -> {
        exchange.getResponseHeaders().set("Content-Type", SCIM);
        exchange.sendResponseHeaders(200, 4_000);
        exchange.getResponseBody().write("{\"schemas\":[".getBytes(StandardCharsets.UTF_8));
        exchange.getResponseBody().flush();
        pause(FailureMode.STALL_FOR);
      }
      default -> {
        return false;
      }
    }
    return true;
  }

  private static void page(HttpExchange exchange, int status, String title) throws IOException {
    var page = "<html><title>%s</title></html>".formatted(title).getBytes(StandardCharsets.UTF_8);
    exchange.getResponseHeaders().set("Content-Type", "text/html");
    exchange.sendResponseHeaders(status, page.length);
    exchange.getResponseBody().write(page);
  }

  private static void pause(Duration duration) {
    try {
      Thread.sleep(duration);
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
    }
  }

  /** Makes every answer take so much longer, as one from another town would. */
  public void delay(Duration duration) {
    delayMillis = duration.toMillis();
  }

  private static ObjectNode error(int status, String detail) {
    var error = JSON.createObjectNode();
    error.putArray("schemas").add(ERROR);
    error.put("status", String.valueOf(status));
    error.put("detail", detail);
    return error;
  }

  static void send(HttpExchange exchange, int status, JsonNode body, Map<String, String> headers)
      throws IOException {
    var bytes = JSON.writeValueAsBytes(body);
    exchange.getResponseHeaders().set("Content-Type", SCIM);
    headers.forEach((name, value) -> exchange.getResponseHeaders().set(name, value));
    exchange.sendResponseHeaders(status, bytes.length);
    exchange.getResponseBody().write(bytes);
  }

  @Override
  public void close() {
    server.stop(0);
  }
}
