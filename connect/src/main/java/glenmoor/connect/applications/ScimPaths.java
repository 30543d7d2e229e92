package glenmoor.connect.applications;

import java.util.Map;
import java.util.Set;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/**
 * Puts mapped attributes into SCIM resources: {@code displayName}, {@code name.givenName}, and
 * {@code emails}, {@code phoneNumbers} and {@code addresses} as the first value of their list (RFC
 * 7643, section 4.1.2).
 */
final class ScimPaths {
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final Set<String> LISTS = Set.of("emails", "phoneNumbers", "photos", "ims");

  private ScimPaths() {}

  static void put(ObjectNode resource, Map<String, String> attributes) {
    attributes.forEach((path, value) -> put(resource, path, value));
  }

  private static void put(ObjectNode resource, String path, String value) {
    var dot = path.lastIndexOf('.');
    if (path.startsWith("urn:")) {
      var colon = path.lastIndexOf(':');
      inside(resource, path.substring(0, colon)).put(path.substring(colon + 1), value);
    } else if (LISTS.contains(path)) {
      var list = resource.putArray(path);
      list.addObject().put("value", value).put("primary", true).put("type", "work");
    } else if (dot > 0) {
      inside(resource, path.substring(0, dot)).put(path.substring(dot + 1), value);
    } else {
      resource.put(path, value);
    }
  }

  private static ObjectNode inside(ObjectNode resource, String key) {
    return resource.get(key) instanceof ObjectNode there ? there : resource.putObject(key);
  }

  /** The value a path has in a resource; empty when it has none. */
  static String get(JsonNode resource, String path) {
    if (path.startsWith("urn:")) {
      var colon = path.lastIndexOf(':');
      return resource.path(path.substring(0, colon)).path(path.substring(colon + 1)).asString("");
    }
    if (LISTS.contains(path)) {
      return resource.path(path).path(0).path("value").asString("");
    }
    var node = resource;
    for (var part : path.split("\\.")) {
      node = node.path(part);
    }
    return node.asString("");
  }

  static ObjectNode object() {
    return JSON.createObjectNode();
  }
}
