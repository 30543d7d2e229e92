package glenmoor.standins.applications;

import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;

/** What the application tells of itself (RFC 7644, section 4). */
final class ScimTelling {
  private static final ObjectMapper JSON = new ObjectMapper();

  private ScimTelling() {}

  static ObjectNode of(String what, FailureMode.Mode mode) {
    return switch (what) {
      case "ServiceProviderConfig" -> config(mode);
      case "Schemas" -> list("urn:ietf:params:scim:schemas:core:2.0:Schema");
      default -> list("urn:ietf:params:scim:schemas:core:2.0:ResourceType");
    };
  }

  private static ObjectNode config(FailureMode.Mode mode) {
    var config = JSON.createObjectNode();
    config.putArray("schemas").add("urn:ietf:params:scim:schemas:core:2.0:ServiceProviderConfig");
    config.putObject("patch").put("supported", mode != FailureMode.Mode.NO_PATCH);
    config.putObject("filter").put("supported", true).put("maxResults", 10_000);
    config.putObject("etag").put("supported", true);
    config.putObject("changePassword").put("supported", true);
    return config;
  }

  private static ObjectNode list(String schema) {
    var list = JSON.createObjectNode();
    list.putArray("schemas").add("urn:ietf:params:scim:api:messages:2.0:ListResponse");
    list.put("totalResults", 2);
    for (var name : List.of("User", "Group")) {
      list.withArray("Resources").addObject().put("name", name).putArray("schemas").add(schema);
    }
    return list;
  }
}
