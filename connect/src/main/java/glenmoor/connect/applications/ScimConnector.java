package glenmoor.connect.applications;

import glenmoor.connect.applications.ScimHttp.Failed;
import glenmoor.core.applications.AccountState;
import glenmoor.core.applications.Application;
import glenmoor.core.provisioning.Order;
import glenmoor.core.provisioning.Outcome;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Consumer;
import java.util.function.UnaryOperator;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Accounts as SCIM 2.0 users (RFC 7643, RFC 7644), entitlements as groups or as values of the
 * user's {@code roles}. The worker number is the {@code externalId}.
 */
final class ScimConnector implements Connector {
  private static final int PAGE = 100;
  private static final String USER = "urn:ietf:params:scim:schemas:core:2.0:User";
  private static final String PATCH = "urn:ietf:params:scim:api:messages:2.0:PatchOp";

  private final Application application;
  private final ScimHttp http;
  private final Map<String, String> groupIds = new ConcurrentHashMap<>();

  ScimConnector(Application application, Settings settings) {
    this.application = application;
    http = new ScimHttp(settings.needed("url"), settings.secretFrom("token-file"));
  }

  @Override
  public Outcome carryOut(Order order, Target target, UnaryOperator<String> open) {
    try {
      return switch (order) {
        case Order.Create create -> create(create, target);
        case Order.Update update -> update(update, target);
        case Order.Enable e -> activate(target, true);
        case Order.Disable d -> activate(target, false);
        case Order.Add add ->
            add.kind().equals("role")
                ? role(add.technicalName(), target, true)
                : member(add.technicalName(), target, true);
        case Order.Remove remove ->
            remove.kind().equals("role")
                ? role(remove.technicalName(), target, false)
                : member(remove.technicalName(), target, false);
        case Order.SetPassword set -> setPassword(open.apply(set.sealed()), target);
        case Order.Delete d -> delete(target);
      };
    } catch (Failed failed) {
      return outcome(failed);
    }
  }

  private Outcome create(Order.Create create, Target target) throws Failed {
    if (target.triedBefore()) {
      var there = find("externalId", target.worker());
      if (there.isPresent()) {
        return adopt(there.get(), create, target, "");
      }
    }
    var user = ScimPaths.object();
    user.putArray("schemas").add(USER);
    user.put("externalId", target.worker());
    user.put("userName", create.name());
    user.put("active", create.state() == AccountState.ENABLED);
    ScimPaths.put(user, create.attributes());
    try {
      var id = http.post("/Users", user).body().path("id").asString("");
      return readBack(id, create.name(), create.state());
    } catch (Failed failed) {
      if (failed.status() != 409) {
        throw failed;
      }
      var own = find("externalId", target.worker());
      if (own.isPresent()) {
        return adopt(own.get(), create, target, "adopted the user that was there");
      }
      return new Outcome.Refused(
          "The name %s is taken by a user that carries no worker number %s. Give that user the worker number as externalId to have it adopted, or rename it, then try again."
              .formatted(create.name(), target.worker()));
    }
  }

  private Outcome adopt(JsonNode user, Order.Create create, Target target, String note)
      throws Failed {
    var id = user.path("id").asString("");
    shape(id, create.name(), create.attributes());
    var outcome = activate(with(target, id), create.state() == AccountState.ENABLED);
    return outcome instanceof Outcome.Confirmed ? new Outcome.Confirmed(id, note) : outcome;
  }

  private static Target with(Target target, String id) {
    return new Target(target.worker(), target.name(), target.container(), id, target.triedBefore());
  }

  private Outcome readBack(String id, String name, AccountState state) throws Failed {
    var user = http.get("/Users/" + id).body();
    var same =
        user.path("userName").asString("").equalsIgnoreCase(name)
            && user.path("active").asBoolean(true) == (state == AccountState.ENABLED);
    return same ? new Outcome.Confirmed(id, "") : unchanged("user");
  }

  private Outcome update(Order.Update update, Target target) throws Failed {
    var id = id(target);
    if (id.isEmpty()) {
      return gone(target);
    }
    shape(id.get(), update.name(), update.attributes());
    var after = http.get("/Users/" + id.get()).body();
    for (var entry : update.attributes().entrySet()) {
      if (!ScimPaths.get(after, entry.getKey()).equals(entry.getValue())) {
        return unchanged("user's " + entry.getKey());
      }
    }
    return new Outcome.Confirmed(id.get(), "");
  }

  /** Sends what differs, on the version that was looked at, if the application offers versions. */
  private void shape(String id, String name, Map<String, String> attributes) throws Failed {
    var seen = http.get("/Users/" + id);
    var value = ScimPaths.object();
    if (!seen.body().path("userName").asString("").equals(name)) {
      value.put("userName", name);
    }
    var patch = patch();
    for (var path : application.attributes().keySet()) {
      var wanted = attributes.getOrDefault(path, "");
      var has = ScimPaths.get(seen.body(), path);
      if (wanted.isEmpty() && !has.isEmpty()) {
        operations(patch).addObject().put("op", "remove").put("path", path);
      } else if (!wanted.equals(has)) {
        ScimPaths.put(value, Map.of(path, wanted));
      }
    }
    if (!value.isEmpty()) {
      operations(patch).addObject().put("op", "replace").set("value", value);
    }
    if (!operations(patch).isEmpty()) {
      http.patch("/Users/" + id, patch, seen.etag());
    }
  }

  private Outcome activate(Target target, boolean active) throws Failed {
    var id = id(target);
    if (id.isEmpty()) {
      return active ? gone(target) : new Outcome.Confirmed("", "the user was gone already");
    }
    var patch = patch();
    operations(patch)
        .addObject()
        .put("op", "replace")
        .set("value", ScimPaths.object().put("active", active));
    http.patch("/Users/" + id.get(), patch, "");
    var is = http.get("/Users/" + id.get() + "?attributes=active").body().path("active");
    return is.asBoolean(!active) == active
        ? new Outcome.Confirmed(id.get(), "")
        : unchanged("user");
  }

  private Outcome member(String group, Target target, boolean adding) throws Failed {
    var id = id(target);
    if (id.isEmpty()) {
      return adding ? gone(target) : new Outcome.Confirmed("", "the user was gone already");
    }
    var groupId = groupId(group);
    if (groupId.isEmpty()) {
      return new Outcome.Refused(
          "There is no group %s. Make it in the application, or correct the entitlement's technical name, then try again."
              .formatted(group));
    }
    var patch = patch();
    if (adding) {
      operations(patch)
          .addObject()
          .put("op", "add")
          .put("path", "members")
          .putArray("value")
          .addObject()
          .put("value", id.get());
    } else {
      operations(patch)
          .addObject()
          .put("op", "remove")
          .put("path", "members[value eq \"%s\"]".formatted(id.get()));
    }
    http.patch("/Groups/" + groupId.get(), patch, "");
    var filter = "id eq \"%s\" and members.value eq \"%s\"".formatted(groupId.get(), id.get());
    var found =
        http.get("/Groups?attributes=id&filter=" + ScimHttp.encoded(filter))
            .body()
            .path("totalResults")
            .asInt(0);
    return found > 0 == adding ? new Outcome.Confirmed(id.get(), "") : unchanged("group");
  }

  private Outcome role(String role, Target target, boolean adding) throws Failed {
    var id = id(target);
    if (id.isEmpty()) {
      return adding ? gone(target) : new Outcome.Confirmed("", "the user was gone already");
    }
    if (holdsRole(id.get(), role) != adding) {
      var patch = patch();
      if (adding) {
        operations(patch)
            .addObject()
            .put("op", "add")
            .put("path", "roles")
            .putArray("value")
            .addObject()
            .put("value", role);
      } else {
        operations(patch)
            .addObject()
            .put("op", "remove")
            .put("path", "roles[value eq \"%s\"]".formatted(role));
      }
      http.patch("/Users/" + id.get(), patch, "");
    }
    return holdsRole(id.get(), role) == adding
        ? new Outcome.Confirmed(id.get(), "")
        : unchanged("user's roles");
  }

  private boolean holdsRole(String id, String role) throws Failed {
    for (var held : http.get("/Users/" + id + "?attributes=roles").body().path("roles")) {
      if (held.path("value").asString("").equals(role)) {
        return true;
      }
    }
    return false;
  }

  private Outcome setPassword(String secret, Target target) throws Failed {
    var id = id(target);
    if (id.isEmpty()) {
      return gone(target);
    }
    var patch = patch();
    operations(patch)
        .addObject()
        .put("op", "replace")
        .set("value", ScimPaths.object().put("password", secret));
    http.patch("/Users/" + id.get(), patch, "");
    return new Outcome.Confirmed(id.get(), "a password cannot be read back over SCIM");
  }

  private Outcome delete(Target target) throws Failed {
    var id = id(target);
    if (id.isPresent()) {
      try {
        http.delete("/Users/" + id.get());
      } catch (Failed failed) {
        if (failed.status() != 404) {
          throw failed;
        }
      }
    }
    return find("externalId", target.worker()).isEmpty()
        ? new Outcome.Confirmed("", "")
        : unchanged("user");
  }

  private Optional<String> id(Target target) throws Failed {
    if (!target.nativeId().isEmpty()) {
      return Optional.of(target.nativeId());
    }
    return find("externalId", target.worker()).map(user -> user.path("id").asString(""));
  }

  private Optional<JsonNode> find(String attribute, String value) throws Failed {
    var filter = "%s eq \"%s\"".formatted(attribute, value.replace("\"", "\\\""));
    var body = http.get("/Users?filter=" + ScimHttp.encoded(filter)).body();
    return Optional.ofNullable(body.path("Resources").get(0));
  }

  private Optional<String> groupId(String group) throws Failed {
    var known = groupIds.get(group);
    if (known != null) {
      return Optional.of(known);
    }
    var filter = "displayName eq \"%s\"".formatted(group.replace("\"", "\\\""));
    var body = http.get("/Groups?attributes=id&filter=" + ScimHttp.encoded(filter)).body();
    var id = body.path("Resources").path(0).path("id").asString("");
    if (!id.isEmpty()) {
      groupIds.put(group, id);
    }
    return Optional.of(id).filter(found -> !found.isEmpty());
  }

  private static ObjectNode patch() {
    var patch = ScimPaths.object();
    patch.putArray("schemas").add(PATCH);
    patch.putArray("Operations");
    return patch;
  }

  private static ArrayNode operations(ObjectNode patch) {
    return patch.withArray("Operations");
  }

  private static Outcome unchanged(String what) {
    return new Outcome.NotNow(
        "The %s was changed, but read back unchanged".formatted(what), Optional.empty());
  }

  private static Outcome gone(Target target) {
    return new Outcome.Refused(
        "No user carries the worker number %s. Restore it in the application, then try again."
            .formatted(target.worker()));
  }

  private static Outcome outcome(Failed failed) {
    var sentence = String.valueOf(failed.getMessage());
    return switch (failed.status()) {
      case 0 -> new Outcome.Unreachable(sentence);
      case 408, 412, 425, 429, 500, 502, 503, 504 -> new Outcome.NotNow(sentence, failed.after());
      default -> new Outcome.Refused(sentence);
    };
  }

  @Override
  public Health test() {
    var before = System.nanoTime();
    try {
      http.get("/Users?count=1&attributes=id");
      var millis = (System.nanoTime() - before) / 1_000_000;
      return new Health(true, "answers in " + millis + " ms", millis);
    } catch (Failed failed) {
      return new Health(false, String.valueOf(failed.getMessage()), 0);
    }
  }

  @Override
  public void list(Consumer<Seen> each) {
    try {
      var start = 1;
      var total = 1;
      while (start <= total) {
        var page =
            http.get(
                    "/Users?startIndex=%d&count=%d&attributes=id,userName,externalId,active"
                        .formatted(start, PAGE))
                .body();
        total = page.path("totalResults").asInt(0);
        var resources = page.path("Resources");
        if (resources.isEmpty()) {
          return;
        }
        for (var user : resources) {
          each.accept(
              new Seen(
                  user.path("id").asString(""),
                  user.path("userName").asString(""),
                  user.path("externalId").asString(""),
                  user.path("active").asBoolean(true)));
        }
        start += resources.size();
      }
    } catch (Failed failed) {
      throw new CannotRead(String.valueOf(failed.getMessage()));
    }
  }

  @Override
  public void close() {
    http.close();
  }
}
