package glenmoor.standins.letters;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.security.GeneralSecurityException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Executors;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;

/**
 * Whoever hears what Glenmoor tells over a channel: a ticket desk, a chat or a program. It takes
 * CloudEvents (1.0, structured JSON) at {@code /events} if they are signed (Standard Webhooks),
 * each once by its identifier; {@code GET /heard} shows what it heard, and {@code POST /control}
 * with {@code {"mode": "down"}}, {@code "broken"}, {@code "refuse"} or {@code "well"} says how it
 * behaves, and with {@code {"press": "approve", "to": "W-01124"}} somebody presses a button.
 */
public final class Desk implements AutoCloseable {
  private static final ObjectMapper JSON = new ObjectMapper();

  private final String key;
  private final String secret;
  private final Path journal;
  private final HttpServer server;
  private final Map<String, JsonNode> heard = new LinkedHashMap<>();
  private final Map<String, String> tickets = new LinkedHashMap<>();
  private volatile String mode = "well";

  /**
   * Opens it.
   *
   * @param directory where it keeps what it heard
   * @param port 0 for a free one
   * @param secret what events are signed with, and whoever looks has to know
   */
  public Desk(String key, Path directory, int port, String secret) throws IOException {
    this.key = key;
    this.secret = secret;
    journal = directory.resolve(key + ".heard");
    if (Files.exists(journal)) {
      for (var line : Files.readAllLines(journal)) {
        hear(JSON.readTree(line));
      }
    }
    server = HttpServer.create(new InetSocketAddress("127.0.0.1", port), 0);
    server.createContext("/events", this::events);
    server.createContext("/heard", this::shown);
    server.createContext("/control", this::control);
    server.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
    server.start();
  }

  public int port() {
    return server.getAddress().getPort();
  }

  /** What it heard, in the order in which it came. */
  public synchronized List<JsonNode> heard() {
    return new ArrayList<>(heard.values());
  }

  /** How it behaves from now on. */
  public void behave(String how) {
    mode = how;
  }

  private synchronized String hear(JsonNode event) {
    var id = event.path("id").asText();
    heard.putIfAbsent(id, event);
    if (!event.path("data").path("do").asText().equals("open")) {
      return event.path("data").path("ticket").asText("");
    }
    return tickets.computeIfAbsent(id, each -> "HD-%04d".formatted(tickets.size() + 1));
  }

  private void events(HttpExchange exchange) throws IOException {
    var body = new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
    switch (mode) {
      case "down" -> exchange.close();
      case "broken" -> send(exchange, 500, Map.of("detail", "Something broke."));
      case "refuse" -> send(exchange, 422, Map.of("detail", "Not like this."));
      default -> {
        if (!signed(exchange, body)) {
          send(exchange, 401, Map.of("detail", "The signature is not right."));
          return;
        }
        var event = JSON.readTree(body);
        synchronized (this) {
          if (!heard.containsKey(event.path("id").asText())) {
            Files.writeString(
                journal, body + "\n", StandardOpenOption.CREATE, StandardOpenOption.APPEND);
          }
        }
        send(exchange, 200, Map.of("ticket", hear(event)));
      }
    }
  }

  private boolean signed(HttpExchange exchange, String body) {
    var headers = exchange.getRequestHeaders();
    var text =
        headers.getFirst("webhook-id") + "." + headers.getFirst("webhook-timestamp") + "." + body;
    return signature(text).equals(headers.getFirst("webhook-signature"));
  }

  private String signature(String text) {
    try {
      var mac = Mac.getInstance("HmacSHA256");
      mac.init(new SecretKeySpec(secret.getBytes(StandardCharsets.UTF_8), "HmacSHA256"));
      return "v1,"
          + Base64.getEncoder().encodeToString(mac.doFinal(text.getBytes(StandardCharsets.UTF_8)));
    } catch (GeneralSecurityException impossible) {
      throw new IllegalStateException(impossible);
    }
  }

  private void shown(HttpExchange exchange) throws IOException {
    send(exchange, isKnown(exchange) ? 200 : 401, isKnown(exchange) ? heard() : Map.of());
  }

  private void control(HttpExchange exchange) throws IOException {
    if (!isKnown(exchange)) {
      send(exchange, 401, Map.of("detail", "This secret is not known here."));
      return;
    }
    var asked = JSON.readTree(exchange.getRequestBody());
    if (asked.has("press")) {
      pressed(exchange, asked);
      return;
    }
    mode = asked.path("mode").asText("well");
    send(exchange, 200, Map.of("desk", key, "mode", mode, "heard", heard().size()));
  }

  /**
   * Somebody presses a button under the last thing that was said to {@code to}: {@code {"press":
   * "approve", "to": "W-01124", "as": "W-01124"}}.
   */
  private void pressed(HttpExchange exchange, JsonNode asked) throws IOException {
    var to = asked.path("to").asText();
    var found =
        heard().reversed().stream()
            .map(event -> event.path("data"))
            .filter(data -> data.has("key") && data.path("to").asText().equals(to))
            .findFirst();
    if (found.isEmpty()) {
      send(exchange, 404, Map.of("detail", "Nothing with buttons was said to " + to + "."));
      return;
    }
    var body =
        JSON.writeValueAsString(
            Map.of(
                "key", found.get().path("key").asText(),
                "worker", asked.path("as").asText(to),
                "decision", asked.path("press").asText(),
                "reason", asked.path("reason").asText("")));
    var id = "press-" + System.nanoTime();
    var now = String.valueOf(Instant.now().getEpochSecond());
    try (var http = HttpClient.newHttpClient()) {
      var answer =
          http.send(
              HttpRequest.newBuilder(URI.create(found.get().path("reply").asText()))
                  .header("Content-Type", "application/json")
                  .header("webhook-id", id)
                  .header("webhook-timestamp", now)
                  .header("webhook-signature", signature(id + "." + now + "." + body))
                  .POST(HttpRequest.BodyPublishers.ofString(body))
                  .build(),
              HttpResponse.BodyHandlers.ofString());
      send(exchange, answer.statusCode(), JSON.readTree(answer.body()));
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
    }
  }

  private boolean isKnown(HttpExchange exchange) {
    return ("Bearer " + secret).equals(exchange.getRequestHeaders().getFirst("Authorization"));
  }

  private static void send(HttpExchange exchange, int status, Object body) throws IOException {
    try (exchange) {
      var bytes = JSON.writeValueAsString(body).getBytes(StandardCharsets.UTF_8);
      exchange.getResponseHeaders().set("Content-Type", "application/json");
      exchange.sendResponseHeaders(status, bytes.length);
      exchange.getResponseBody().write(bytes);
    }
  }

  @Override
  public void close() {
    server.stop(0);
  }
}
