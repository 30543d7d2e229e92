package glenmoor.standins.applications;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.sun.net.httpserver.HttpExchange;
import com.unboundid.scim2.common.GenericScimResource;
import com.unboundid.scim2.common.exceptions.ScimException;
import com.unboundid.scim2.common.filters.Filter;
import com.unboundid.scim2.common.messages.PatchRequest;
import com.unboundid.scim2.common.utils.JsonUtils;
import java.io.IOException;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Instant;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.UUID;
import org.jspecify.annotations.Nullable;

/** What a service application keeps, and how it is asked for and changed: users and groups. */
final class ScimDoor {
  private static final ObjectMapper JSON = new ObjectMapper();
  private static final String LIST = "urn:ietf:params:scim:api:messages:2.0:ListResponse";
  private static final int USUAL_COUNT = 100;

  /** An answer that is an error (RFC 7644, section 3.12). */
  static final class Wrong extends Exception {
    private static final long serialVersionUID = 1;
    private final int status;

    Wrong(int status, String detail) {
      super(detail);
      this.status = status;
    }

    int status() {
      return status;
    }
  }

  private final int seats;
  private final Resources users;
  private final Resources groups;

  ScimDoor(String key, Path directory, int seats, List<String> groupNames) {
    this.seats = seats;
    users =
        new Resources(
            directory.resolve(key + "-users.jsonl"), Set.of("externalId", "userName", "id"));
    groups = new Resources(directory.resolve(key + "-groups.jsonl"), Set.of("displayName", "id"));
    if (groups.size() == 0) {
      groupNames.forEach(this::addGroup);
    }
  }

  private void addGroup(String name) {
    var group = JSON.createObjectNode();
    group.putArray("schemas").add("urn:ietf:params:scim:schemas:core:2.0:Group");
    group.put("id", UUID.randomUUID().toString());
    group.put("displayName", name);
    group.putArray("members");
    groups.put(versioned(group, "Group"));
  }

  int users() {
    return users.size();
  }

  long active() {
    return users.count("active", true);
  }

  /**
   * Answers one request.
   *
   * @param mode its temper: whether changes are kept, filters heeded, lists replaced
   */
  void answer(HttpExchange exchange, FailureMode.Mode mode)
      throws IOException, Wrong, ScimException {
    var keeps = mode != FailureMode.Mode.FORGET;
    var path = exchange.getRequestURI().getPath().substring("/scim/v2/".length()).split("/");
    var resources =
        switch (path[0]) {
          case "Users" -> users;
          case "Groups" -> groups;
          case "ServiceProviderConfig", "Schemas", "ResourceTypes" -> {
            ScimApplication.send(exchange, 200, ScimTelling.of(path[0], mode), Map.of());
            yield null;
          }
          default -> throw new Wrong(404, "There is nothing at this address.");
        };
    if (resources == null) {
      return;
    }
    var type = path[0].equals("Users") ? "User" : "Group";
    switch (exchange.getRequestMethod() + (path.length > 1 ? " one" : "")) {
      case "GET" -> list(exchange, resources, mode);
      case "POST" -> create(exchange, resources, type, keeps);
      case "GET one" ->
          show(
              exchange,
              resources,
              mode == FailureMode.Mode.ANOTHER ? resources.otherThan(path[1]) : path[1]);
      case "PATCH one" -> patch(exchange, resources, path[1], type, mode);
      case "PUT one" -> put(exchange, resources, path[1], type, keeps);
      case "DELETE one" -> delete(exchange, resources, path[1], keeps);
      default -> throw new Wrong(405, "This method is not offered here.");
    }
  }

  private void list(HttpExchange exchange, Resources resources, FailureMode.Mode mode)
      throws IOException, Wrong, ScimException {
    var query = query(exchange);
    var filter = mode == FailureMode.Mode.IGNORE_FILTERS ? null : query.get("filter");
    if (mode == FailureMode.Mode.NO_MEMBER_FILTERS
        && filter != null
        && filter.contains("members")) {
      throw new Wrong(400, "This filter is not understood here.");
    }
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
    ScimApplication.send(exchange, 200, answer, Map.of());
  }

  private void show(HttpExchange exchange, Resources resources, String id)
      throws IOException, Wrong {
    var found = resources.get(id).orElseThrow(() -> new Wrong(404, "There is no resource " + id));
    ScimApplication.send(
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
      ScimApplication.send(
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
      throw new Wrong(400, "seat limit reached: %d of %d seats are used".formatted(seats, seats));
    }
  }

  private void patch(
      HttpExchange exchange, Resources resources, String id, String type, FailureMode.Mode mode)
      throws IOException, Wrong, ScimException {
    var keeps = mode != FailureMode.Mode.FORGET;
    var body = exchange.getRequestBody().readAllBytes();
    synchronized (resources) {
      var found = current(exchange, resources, id);
      var wasActive = found.path("active").asBoolean();
      var request =
          JsonUtils.getObjectReader()
              .forType(PatchRequest.class)
              .readValue(body, PatchRequest.class);
      var generic = new GenericScimResource(found.deepCopy());
      request.apply(generic);
      var changed = (ObjectNode) generic.getObjectNode();
      if (mode == FailureMode.Mode.ADD_ON_REPLACE) {
        for (var name : List.of("emails", "phoneNumbers")) {
          if (!changed.path(name).equals(found.path(name)) && found.has(name)) {
            var all = found.withArray(name).deepCopy();
            changed.path(name).forEach(all::add);
            changed.set(name, all);
          }
        }
      }
      changed.remove("password");
      if (!wasActive && type.equals("User")) {
        seat(changed.path("active").asBoolean());
      }
      var made = versioned(withoutDoubles(changed), type);
      if (keeps) {
        resources.put(made);
      }
      ScimApplication.send(
          exchange, 200, made, Map.of("ETag", made.path("meta").path("version").asText()));
    }
  }

  /** The resource, if it is still at the version the request was made for. */
  private static ObjectNode current(HttpExchange exchange, Resources resources, String id)
      throws Wrong {
    var found = resources.get(id).orElseThrow(() -> new Wrong(404, "There is no resource " + id));
    var wanted = exchange.getRequestHeaders().getFirst("If-Match");
    var version = found.path("meta").path("version").asText();
    if (wanted != null && !wanted.equals(version)) {
      throw new Wrong(412, "The resource is at version " + version + " by now.");
    }
    return found;
  }

  private void put(
      HttpExchange exchange, Resources resources, String id, String type, boolean keeps)
      throws IOException, Wrong {
    var body = (ObjectNode) JSON.readTree(exchange.getRequestBody());
    synchronized (resources) {
      var found = current(exchange, resources, id);
      if (!found.path("active").asBoolean() && type.equals("User")) {
        seat(body.path("active").asBoolean());
      }
      body.put("id", id);
      body.remove("password");
      var made = versioned(withoutDoubles(body), type);
      if (keeps) {
        resources.put(made);
      }
      ScimApplication.send(
          exchange, 200, made, Map.of("ETag", made.path("meta").path("version").asText()));
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
}
