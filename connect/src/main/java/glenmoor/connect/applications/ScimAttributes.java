package glenmoor.connect.applications;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.JsonNodeFactory;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.fasterxml.jackson.databind.node.TextNode;
import com.unboundid.scim2.common.Path;
import com.unboundid.scim2.common.exceptions.ScimException;
import com.unboundid.scim2.common.messages.PatchOperation;
import com.unboundid.scim2.common.utils.JsonUtils;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Mapped attributes in SCIM users: {@code displayName}, {@code name.givenName}, extensions by their
 * URN, and {@code emails}, {@code phoneNumbers} and the like, of whose values one is ours: the
 * primary one, else the one for work (RFC 7643, section 2.4). The others are left alone.
 */
final class ScimAttributes {
  private static final Set<String> LISTS = Set.of("emails", "phoneNumbers", "photos", "ims");
  private static final JsonNodeFactory JSON = JsonUtils.getJsonNodeFactory();

  /** A mapped attribute's name is no path that SCIM knows. */
  static final class BadPath extends RuntimeException {
    private static final long serialVersionUID = 1;

    BadPath(String path) {
      super("“" + path + "” is no attribute of a SCIM user");
    }
  }

  private ScimAttributes() {}

  static void put(ObjectNode user, Map<String, String> attributes) {
    attributes.forEach((path, value) -> put(user, path, value));
  }

  /** Gives a resource a value in a path; the empty text takes it away. */
  static void put(ObjectNode user, String path, String value) {
    try {
      if (LISTS.contains(path)) {
        user.set(path, listWith(user.path(path), value));
      } else if (value.isEmpty()) {
        JsonUtils.removeValues(Path.fromString(path), user);
      } else {
        JsonUtils.replaceValue(Path.fromString(path), user, new TextNode(value));
      }
    } catch (ScimException bad) {
      throw new BadPath(path);
    }
  }

  /** The value a path has in a resource; empty when it has none. */
  static String get(ObjectNode user, String path) {
    try {
      if (LISTS.contains(path)) {
        var ours = ours(user.path(path));
        return ours < 0 ? "" : user.path(path).path(ours).path("value").asText("");
      }
      var value = JsonUtils.getValue(Path.fromString(path), user);
      return value == null || value.isNull() ? "" : value.asText("");
    } catch (ScimException bad) {
      throw new BadPath(path);
    }
  }

  /** What to send so that a path has a value, always naming the path; nothing where it has it. */
  static Optional<PatchOperation> difference(ObjectNode user, String path, String value) {
    if (get(user, path).equals(value)) {
      return Optional.empty();
    }
    try {
      if (LISTS.contains(path)) {
        var list = listWith(user.path(path), value);
        return Optional.of(
            list.isEmpty()
                ? PatchOperation.remove(Path.fromString(path))
                : PatchOperation.replace(Path.fromString(path), list));
      }
      return Optional.of(
          value.isEmpty()
              ? PatchOperation.remove(Path.fromString(path))
              : PatchOperation.replace(Path.fromString(path), new TextNode(value)));
    } catch (ScimException bad) {
      throw new BadPath(path);
    }
  }

  private static int ours(JsonNode list) {
    var work = -1;
    for (var i = 0; i < list.size(); i++) {
      if (list.path(i).path("primary").asBoolean(false)) {
        return i;
      }
      if (work < 0 && list.path(i).path("type").asText("work").equals("work")) {
        work = i;
      }
    }
    return work;
  }

  private static ArrayNode listWith(JsonNode before, String value) {
    var ours = ours(before);
    var list = JSON.arrayNode();
    if (!value.isEmpty()) {
      var entry = JSON.objectNode();
      entry.put("value", value).put("primary", true).put("type", "work");
      list.add(entry);
    }
    for (var i = 0; i < before.size(); i++) {
      // Ours may stand there twice, where a change was taken for an addition.
      if (i != ours && !before.path(i).path("value").asText("").equals(value)) {
        list.add(before.path(i).deepCopy());
      }
    }
    return list;
  }
}
