package glenmoor.standins.applications;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import com.unboundid.scim2.common.GenericScimResource;
import com.unboundid.scim2.common.exceptions.ScimException;
import com.unboundid.scim2.common.filters.Filter;
import com.unboundid.scim2.common.messages.PatchRequest;
import com.unboundid.scim2.common.utils.JsonUtils;
import glenmoor.standins.applications.Mood.Mode;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicLong;
import org.jspecify.annotations.Nullable;

/**
 * A service application that speaks SCIM 2.0 (RFC 7643, RFC 7644): users, groups, filters, paging,
 * PATCH and versions. {@code POST /control} tells it to fail.
 */
public final class ScimApplication implements AutoCloseable {
  private static final ObjectMapper JSON = new ObjectMapper();
  private static final String SCIM = "application/scim+json";
  private static final String LIST = "urn:ietf:params:scim:api:messages:2.0:ListResponse";
  private static final String ERROR = "urn:ietf:params:scim:api:messages:2.0:Error";
  private static final int USUAL_COUNT = 100;
  private static final String RETRY_AFTER = "2";

  /** An answer that is an error (RFC 7644, section 3.12). */
  private static final class Wrong extends Exception {
    private static final long serialVersionUID = 1;
    private final int status;

    Wrong(int status, String detail) {
      super(detail);
      this.status = status;
    }
  }

  private final String key;
  private final String token;
  private final int seats;
  private final Resources users;
  private final Resources groups;
  private final HttpServer server;
  private final AtomicLong requests = new AtomicLong();
  private volatile Mood mood = Mood.WELL;
  private volatile long delayMillis;

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
    this.seats = seats;
    users =
        new Resources(
            directory.resolve(key + "-users.jsonl"), Set.of("externalId", "userName", "id"));
    groups = new Resources(directory.resolve(key + "-groups.jsonl"), Set.of("displayName", "id"));
    if (groups.size() == 0) {
      groupNames.forEach(this::addGroup);
    }
    server = HttpServer.create(new InetSocketAddress("127.0.0.1", port), 0);
    server.createContext("/scim/v2/", this::scim);
    server.createContext("/control", this::control);
    server.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
    server.start();
  }

  private void addGroup(String name) {
    var group = JSON.createObjectNode();
    group.putArray("schemas").add("urn:ietf:params:scim:schemas:core:2.0:Group");
    group.put("id", UUID.randomUUID().toString());
    group.put("displayName", name);
    group.putArray("members");
    groups.put(versioned(group, "Group"));
  }

  public int port() {
    return server.getAddress().getPort();
  }

  private void control(HttpExchange exchange) throws IOException {
    try (exchange) {
      if (exchange.getRequestMethod().equals("POST")) {
        var body = JSON.readTree(exchange.getRequestBody());
        var mode = Mode.valueOf(body.path("mode").asText("well").toUpperCase(Locale.ROOT));
        var seconds = body.path("seconds").asLong(0);
        delayMillis = body.path("delayMillis").asLong(0);
        mood =
            new Mood(
                mode,
                body.path("reason").asText("refused on request"),
                seconds == 0 ? Instant.MAX : Instant.now().plusSeconds(seconds));
      }
      var state = JSON.createObjectNode();
      state.put("application", key);
      state.put("mode", mood.now().mode().name().toLowerCase(Locale.ROOT));
      state.put("users", users.size());
      state.put("active", users.count("active", true));
      state.put("requests", requests.get());
      send(exchange, 200, state, Map.of());
    } catch (IllegalArgumentException unknown) {
      send(
          exchange,
          400,
          JSON.createObjectNode()
              .put(
                  "detail",
                  "mode is one of " + Arrays.toString(Mode.values()).toLowerCase(Locale.ROOT)),
          Map.of());
    }
  }

  private void scim(HttpExchange exchange) throws IOException {
    requests.incrementAndGet();
    var now = mood.now();
    if (now.mode() == Mode.DOWN) {
      exchange.close();
      return;
    }
    try (exchange) {
      try {
        moody(exchange, now);
        route(exchange, now);
      } catch (Wrong wrong) {
        var headers =
            wrong.status == 429 ? Map.of("Retry-After", RETRY_AFTER) : Map.<String, String>of();
        send(
            exchange,
            wrong.status,
            error(wrong.status, String.valueOf(wrong.getMessage())),
            headers);
      } catch (ScimException bad) {
        var status = bad.getScimError().getStatus();
        send(exchange, status, error(status, String.valueOf(bad.getMessage())), Map.of());
      } catch (JsonProcessingException bad) {
        send(exchange, 400, error(400, "The body is no JSON."), Map.of());
      }
    }
  }

  private void moody(HttpExchange exchange, Mood now) throws Wrong {
    if (!("Bearer " + token).equals(exchange.getRequestHeaders().getFirst("Authorization"))) {
      throw new Wrong(401, "This token is not known here.");
    }
    var changes = !exchange.getRequestMethod().equals("GET");
    pause(Duration.ofMillis(delayMillis));
    switch (now.mode()) {
      case BROKEN -> throw new Wrong(500, "Something broke.");
      case BUSY -> throw new Wrong(429, "Too many requests.");
      case REFUSE -> {
        if (changes) {
          throw new Wrong(403, now.reason());
        }
      }
      case STALL -> pause(Mood.STALL_FOR);
      case WELL, DOWN, FORGET -> {}
    }
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

  private void route(HttpExchange exchange, Mood now) throws IOException, Wrong, ScimException {
    var path = exchange.getRequestURI().getPath().substring("/scim/v2/".length()).split("/");
    var resources =
        switch (path[0]) {
          case "Users" -> users;
          case "Groups" -> groups;
          default -> throw new Wrong(404, "There is nothing at this address.");
        };
    var type = path[0].equals("Users") ? "User" : "Group";
    var keeps = now.mode() != Mode.FORGET;
    switch (exchange.getRequestMethod() + (path.length > 1 ? " one" : "")) {
      case "GET" -> list(exchange, resources);
      case "POST" -> create(exchange, resources, type, keeps);
      case "GET one" -> show(exchange, resources, path[1]);
      case "PATCH one" -> patch(exchange, resources, path[1], type, keeps);
      case "DELETE one" -> delete(exchange, resources, path[1], keeps);
      default -> throw new Wrong(405, "This method is not offered here.");
    }
  }

  private void list(HttpExchange exchange, Resources resources) throws IOException, ScimException {
    var query = query(exchange);
    var filter = query.get("filter");
    var found = resources.matching(filter == null ? null : Filter.fromString(filter));
    var start = Math.max(1, Integer.parseInt(query.getOrDefault("startIndex", "1")));
    var count = Integer.parseInt(query.getOrDefault("count", String.valueOf(USUAL_COUNT)));
    var page = found.stream().skip(start - 1L).limit(Math.max(0, count)).toList();
    var answer = JSON.createObjectNode();
    answer.putArray("schemas").add(LIST);
    answer.put("totalResults", found.size());
    answer.put("startIndex", start);
    answer.put("itemsPerPage", page.size());
    var items = answer.putArray("Resources");
    page.forEach(each -> items.add(only(each, query.get("attributes"))));
    send(exchange, 200, answer, Map.of());
  }

  private void show(HttpExchange exchange, Resources resources, String id)
      throws IOException, Wrong {
    var found = resources.get(id).orElseThrow(() -> new Wrong(404, "There is no resource " + id));
    send(
        exchange,
        200,
        only(found, query(exchange).get("attributes")),
        Map.of("ETag", found.path("meta").path("version").asText()));
  }

  private void create(HttpExchange exchange, Resources resources, String type, boolean keeps)
      throws IOException, Wrong, ScimException {
    var body = (ObjectNode) JSON.readTree(exchange.getRequestBody());
    body.put("id", UUID.randomUUID().toString());
    synchronized (resources) {
      if (type.equals("User")) {
        var name = body.path("userName").asText("");
        if (!resources.matching(Filter.eq("userName", name)).isEmpty()) {
          throw new Wrong(409, "The userName " + name + " is taken.");
        }
        if (!body.has("active")) {
          body.put("active", true);
        }
        seat(body.path("active").asBoolean());
      }
      var made = versioned(body, type);
      made.remove("password");
      if (keeps) {
        resources.put(made);
      }
      send(
          exchange,
          201,
          made,
          Map.of(
              "ETag",
              made.path("meta").path("version").asText(),
              "Location",
              "/scim/v2/" + type + "s/" + made.path("id").asText()));
    }
  }

  private void seat(boolean active) throws Wrong {
    if (active && seats > 0 && users.count("active", true) >= seats) {
      throw new Wrong(403, "seat limit reached: %d of %d seats are used".formatted(seats, seats));
    }
  }

  private void patch(
      HttpExchange exchange, Resources resources, String id, String type, boolean keeps)
      throws IOException, Wrong, ScimException {
    var body = exchange.getRequestBody().readAllBytes();
    synchronized (resources) {
      var found = resources.get(id).orElseThrow(() -> new Wrong(404, "There is no resource " + id));
      var wanted = exchange.getRequestHeaders().getFirst("If-Match");
      var version = found.path("meta").path("version").asText();
      if (wanted != null && !wanted.equals(version)) {
        throw new Wrong(412, "The resource is at version " + version + " by now.");
      }
      var wasActive = found.path("active").asBoolean();
      var request =
          JsonUtils.getObjectReader()
              .forType(PatchRequest.class)
              .readValue(body, PatchRequest.class);
      var generic = new GenericScimResource(found);
      request.apply(generic);
      var changed = (ObjectNode) generic.getObjectNode();
      changed.remove("password");
      if (!wasActive && type.equals("User")) {
        seat(changed.path("active").asBoolean());
      }
      var made = versioned(withoutDoubles(changed), type);
      if (keeps) {
        resources.put(made);
      }
      send(exchange, 200, made, Map.of("ETag", made.path("meta").path("version").asText()));
    }
  }

  /** Adding a value that is there already changes nothing (RFC 7644, section 3.5.2.1). */
  private static ObjectNode withoutDoubles(ObjectNode resource) {
    for (var name : List.of("members", "roles")) {
      if (resource.get(name) != null && resource.get(name).isArray()) {
        var values = new LinkedHashMap<String, JsonNode>();
        resource.get(name).forEach(each -> values.put(each.path("value").asText(), each));
        resource.putArray(name).addAll(values.values());
      }
    }
    return resource;
  }

  private void delete(HttpExchange exchange, Resources resources, String id, boolean keeps)
      throws IOException, Wrong {
    if (keeps && !resources.delete(id)) {
      throw new Wrong(404, "There is no resource " + id);
    }
    exchange.sendResponseHeaders(204, -1);
  }

  private static ObjectNode versioned(ObjectNode resource, String type) {
    var meta =
        resource.get("meta") instanceof ObjectNode there ? there : resource.putObject("meta");
    meta.put("resourceType", type);
    meta.put("lastModified", Instant.now().toString());
    meta.put("version", "W/\"" + Long.toHexString(System.nanoTime()) + "\"");
    return resource;
  }

  private static ObjectNode only(ObjectNode resource, @Nullable String attributes) {
    if (attributes == null) {
      return resource;
    }
    var wanted = Set.of(attributes.split(","));
    var some = resource.deepCopy();
    some.retain(wanted.stream().map(each -> each.split("\\.")[0]).toList());
    some.set("id", resource.get("id"));
    return some;
  }

  private static ObjectNode error(int status, String detail) {
    var error = JSON.createObjectNode();
    error.putArray("schemas").add(ERROR);
    error.put("status", String.valueOf(status));
    error.put("detail", detail);
    return error;
  }

  private static Map<String, String> query(HttpExchange exchange) {
    var query = new HashMap<String, String>();
    var raw = exchange.getRequestURI().getRawQuery();
    if (raw != null) {
      for (var pair : raw.split("&")) {
        var parts = pair.split("=", 2);
        query.put(
            parts[0], parts.length < 2 ? "" : URLDecoder.decode(parts[1], StandardCharsets.UTF_8));
      }
    }
    return query;
  }

  private static void send(
      HttpExchange exchange, int status, JsonNode body, Map<String, String> headers)
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
