package glenmoor.connect.applications;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.unboundid.scim2.common.exceptions.ScimException;
import com.unboundid.scim2.common.filters.Filter;
import com.unboundid.scim2.common.messages.PatchOperation;
import com.unboundid.scim2.common.utils.JsonUtils;
import glenmoor.connect.applications.ScimHttp.Answer;
import glenmoor.connect.applications.ScimHttp.Failed;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Consumer;
import java.util.function.Predicate;
import org.jspecify.annotations.Nullable;

/**
 * What can be asked of and changed in a SCIM service, whatever its temper: it may ignore filters,
 * not know PATCH, or take a change for another one than was meant. So what comes back is compared
 * with what was asked for before it is used, and where a filter was ignored all pages are read.
 */
final class ScimService {
  private static final String PATCH = "urn:ietf:params:scim:api:messages:2.0:PatchOp";
  private static final int PAGE = 100;
  private static final int MOST_PAGES = 50_000;

  /** Two resources where there must be one. */
  static final class Ambiguous extends Exception {
    private static final long serialVersionUID = 1;

    Ambiguous(String sentence) {
      super(sentence);
    }
  }

  private final ScimHttp http;
  private final Map<String, String> groupIds = new ConcurrentHashMap<>();
  private volatile boolean filters = true;
  private volatile boolean patches = true;
  private volatile boolean memberFilters;
  private volatile boolean memberFiltersTried;

  ScimService(ScimHttp http) {
    this.http = http;
  }

  ScimHttp http() {
    return http;
  }

  /** The resource under an identity; nothing only where the service says that there is none. */
  Optional<Answer> byId(String type, String id, String schema) throws Failed {
    try {
      var answer = http.get("/" + type + "/" + ScimHttp.encoded(id), schema);
      if (!answer.body().path("id").asText("").equals(id)) {
        throw new Failed(
            Failed.NO_SCIM,
            "It was asked for %s %s and answered with another".formatted(type, id),
            null);
      }
      return Optional.of(answer);
    } catch (Failed failed) {
      if (failed.status() == 404) {
        return Optional.empty();
      }
      throw failed;
    }
  }

  /**
   * The one resource of which an attribute has exactly this value.
   *
   * @throws Ambiguous if there are several
   */
  Optional<ObjectNode> find(String type, String attribute, String value) throws Failed, Ambiguous {
    Predicate<JsonNode> same = each -> each.path(attribute).asText("").equals(value);
    var found = new ArrayList<ObjectNode>();
    if (filters) {
      var filter = ScimHttp.encoded(equal(attribute, value).toString());
      try {
        var page = list("/%s?filter=%s".formatted(type, filter));
        matching(page, same, found);
        if (found.isEmpty() && total(page) > 0) {
          // Somebody else came back: the filter was not understood, or compares more loosely.
          walk(type, same, found);
        }
      } catch (Failed failed) {
        if (failed.status() != 400 && failed.status() != 501) {
          throw failed;
        }
        filters = false;
        walk(type, same, found);
      }
    } else {
      walk(type, same, found);
    }
    if (found.size() > 1) {
      throw new Ambiguous(
          "%d %s carry the %s %s. Leave it to one of them, then try again."
              .formatted(found.size(), type.toLowerCase(Locale.ROOT), attribute, value));
    }
    return found.stream().findFirst();
  }

  private static void matching(ObjectNode page, Predicate<JsonNode> same, List<ObjectNode> found) {
    for (var each : page.path("Resources")) {
      if (each instanceof ObjectNode resource && same.test(resource)) {
        found.add(resource);
      }
    }
  }

  private void walk(String type, Predicate<JsonNode> same, List<ObjectNode> found) throws Failed {
    found.clear();
    each(
        type,
        "",
        resource -> {
          if (same.test(resource)) {
            found.add(resource);
          }
        });
  }

  /** Goes over all resources of a type, page by page, and fails where pages are missing. */
  void each(String type, String attributes, Consumer<ObjectNode> each) throws Failed {
    var start = 1;
    var seen = 0;
    for (var pages = 0; pages < MOST_PAGES; pages++) {
      var page = list("/%s?startIndex=%d&count=%d%s".formatted(type, start, PAGE, attributes));
      var resources = page.path("Resources");
      for (var resource : resources) {
        if (resource instanceof ObjectNode object) {
          each.accept(object);
          seen++;
        }
      }
      if (seen >= total(page)) {
        return;
      }
      if (resources.isEmpty()) {
        throw new Failed(
            Failed.NO_SCIM,
            "It says that there are %d %s, and shows only %d".formatted(total(page), type, seen),
            null);
      }
      start += resources.size();
    }
  }

  ObjectNode list(String path) throws Failed {
    var body = http.get(path, ScimHttp.LIST).body();
    if (!body.path("totalResults").isIntegralNumber()) {
      throw new Failed(Failed.NO_SCIM, "A list came back that does not say how long it is", null);
    }
    return body;
  }

  private static int total(ObjectNode page) {
    return page.path("totalResults").asInt();
  }

  /**
   * Changes a resource by PATCH, or where that is not offered or was taken otherwise than meant, by
   * putting the whole resource.
   *
   * @param whole makes the same change in the whole resource
   * @param putting whether PATCH was tried before and had another effect: it is not repeated then
   */
  void change(
      String path,
      String schema,
      List<PatchOperation> operations,
      Consumer<ObjectNode> whole,
      boolean putting,
      String etag)
      throws Failed {
    if (patches && !putting) {
      try {
        http.patch(path, text(operations), etag);
        return;
      } catch (Failed failed) {
        if (failed.status() != 405 && failed.status() != 501) {
          throw failed;
        }
        patches = false;
      }
    }
    var seen = http.get(path, schema);
    var changed = seen.body().deepCopy();
    whole.accept(changed);
    changed.remove("meta");
    http.put(path, changed, seen.etag());
  }

  /** The body of a PATCH (RFC 7644, section 3.5.2), without the detour over beans. */
  private static String text(List<PatchOperation> operations) {
    var body = JsonUtils.getJsonNodeFactory().objectNode();
    body.putArray("schemas").add(PATCH);
    var each = body.putArray("Operations");
    for (var operation : operations) {
      var part = each.addObject().put("op", operation.getOpType().toString());
      if (operation.getPath() != null) {
        part.put("path", operation.getPath().toString());
      }
      if (operation.getJsonNode() != null) {
        part.set("value", operation.getJsonNode());
      }
    }
    return body.toString();
  }

  /** The identity of a group by its display name; kept until it turns out to be another one. */
  Optional<String> groupId(String name) throws Failed, Ambiguous {
    var known = groupIds.get(name);
    if (known != null) {
      return Optional.of(known);
    }
    var found = find("Groups", "displayName", name).map(group -> group.path("id").asText(""));
    found.ifPresent(id -> groupIds.put(name, id));
    return found;
  }

  void forgetGroup(String name) {
    groupIds.remove(name);
  }

  /**
   * Whether a user is a member of a group, by positive proof either way. The group is read as a
   * whole, until a filter over its members has shown, once, that it tells members from others;
   * where the filter then says otherwise than expected, the group itself is asked, and from then
   * on.
   */
  boolean isMember(String group, String user, boolean expected) throws Failed {
    if (memberFilters) {
      try {
        if (byFilter(group, user) == expected) {
          return expected;
        }
        memberFilters = false;
      } catch (Failed failed) {
        if (failed.status() < 400 || failed.status() >= 500) {
          throw failed;
        }
        // It told members from others once, and stumbles over this group.
        memberFilters = false;
      }
    }
    var member = isListed(group, user);
    if (member && !memberFiltersTried && filters) {
      memberFiltersTried = true;
      memberFilters = tellsApart(group, user);
    }
    return member;
  }

  private boolean isListed(String group, String user) throws Failed {
    var read = http.get("/Groups/" + ScimHttp.encoded(group), ScimHttp.GROUP).body();
    if (!read.path("id").asText("").equals(group)) {
      throw new Failed(
          Failed.NO_SCIM, "It was asked for one group and answered with another", null);
    }
    for (var member : read.path("members")) {
      if (member.path("value").asText("").equals(user)) {
        return true;
      }
    }
    return false;
  }

  private boolean tellsApart(String group, String member) {
    try {
      return byFilter(group, member) && !byFilter(group, "nobody-" + member);
    } catch (Failed notUnderstood) {
      return false;
    }
  }

  private boolean byFilter(String group, String user) throws Failed {
    var filter = Filter.and(equal("id", group), equal("members.value", user)).toString();
    var page = list("/Groups?attributes=id&filter=" + ScimHttp.encoded(filter));
    if (total(page) > 1) {
      // One group was asked for: whoever gives several has not looked at the filter, and proves
      // nothing.
      throw new Failed(400, "It gives more groups than the filter asks for", null);
    }
    return total(page) == 1 && page.path("Resources").path(0).path("id").asText("").equals(group);
  }

  private static Filter equal(String attribute, String value) {
    try {
      return Filter.eq(attribute, value);
    } catch (ScimException impossible) {
      throw new IllegalStateException(impossible);
    }
  }

  /** Asks what the service can do (RFC 7644, section 4), and keeps to it. */
  List<String> abilities() throws Failed {
    var abilities = new ArrayList<String>();
    var config = optional("/ServiceProviderConfig");
    if (config == null) {
      abilities.add("it does not tell what it can do (no ServiceProviderConfig)");
    } else {
      patches = said(config, "patch");
      filters = said(config, "filter");
      abilities.add(
          patches
              ? "changes parts of a resource (PATCH)"
              : "takes whole resources only (no PATCH)");
      abilities.add(filters ? "finds by filter" : "has no filters: all users are read to find one");
      abilities.add(said(config, "etag") ? "keeps versions (ETag)" : "keeps no versions");
      abilities.add(
          said(config, "changePassword")
              ? "takes new passwords"
              : "says that it takes no passwords");
    }
    for (var path : List.of("/Schemas", "/ResourceTypes")) {
      var list = optional(path);
      if (list == null) {
        abilities.add("it does not tell its " + path.substring(1));
      } else {
        var ids = new ArrayList<String>();
        list.path("Resources")
            .forEach(each -> ids.add(each.path("name").asText(each.path("id").asText())));
        abilities.add(path.substring(1) + ": " + String.join(", ", ids));
      }
    }
    return abilities;
  }

  private static boolean said(ObjectNode config, String ability) {
    return config.path(ability).path("supported").asBoolean(false);
  }

  private @Nullable ObjectNode optional(String path) throws Failed {
    try {
      return http.get(path, "").body();
    } catch (Failed failed) {
      if (failed.status() == Failed.AWAY || failed.status() == 401 || failed.status() == 403) {
        throw failed;
      }
      return null;
    }
  }
}
