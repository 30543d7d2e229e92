package glenmoor.server.lifecycle;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.Refused;
import glenmoor.engine.lifecycle.PushService;
import glenmoor.server.authorization.Needs;
import io.swagger.v3.oas.annotations.Hidden;
import jakarta.servlet.http.HttpServletRequest;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import tools.jackson.databind.json.JsonMapper;

/** What the SCIM door can do (RFC 7643, sections 5 to 7; RFC 7644, section 4). */
@Hidden
@RestController
@RequestMapping(path = "/scim/v2", produces = Scim.TYPE)
class ScimDiscoveryApi {
  private static final String CONFIG =
      "urn:ietf:params:scim:schemas:core:2.0:ServiceProviderConfig";
  private static final String RESOURCE_TYPE = "urn:ietf:params:scim:schemas:core:2.0:ResourceType";
  private static final JsonMapper JSON = JsonMapper.shared();

  @Needs(Permission.PUSH_PEOPLE)
  @GetMapping("/ServiceProviderConfig")
  String config(Actor actor, HttpServletRequest request) {
    var config = new LinkedHashMap<String, Object>();
    config.put("schemas", List.of(CONFIG));
    config.put("patch", Map.of("supported", true));
    config.put("bulk", Map.of("supported", false, "maxOperations", 0, "maxPayloadSize", 0));
    config.put("filter", Map.of("supported", true, "maxResults", PushService.MOST));
    config.put("changePassword", Map.of("supported", false));
    config.put("sort", Map.of("supported", true));
    config.put("etag", Map.of("supported", true));
    config.put(
        "authenticationSchemes",
        List.of(
            Map.of(
                "type", "oauthbearertoken",
                "name", "Bearer token",
                "description", "A token of a sign-in with the duty source-client (RFC 6750).")));
    config.put(
        "meta", Scim.meta("ServiceProviderConfig", Scim.base(request) + "/ServiceProviderConfig"));
    return JSON.writeValueAsString(config);
  }

  @Needs(Permission.PUSH_PEOPLE)
  @GetMapping("/ResourceTypes")
  String types(Actor actor, HttpServletRequest request) {
    return Scim.list(List.of(userType(request), groupType(request)));
  }

  @Needs(Permission.PUSH_PEOPLE)
  @GetMapping("/ResourceTypes/{name}")
  String type(@PathVariable String name, Actor actor, HttpServletRequest request) {
    return switch (name) {
      case "User" -> userType(request);
      case "Group" -> groupType(request);
      default -> throw Refused.notThere("There is no ResourceType %s.".formatted(name));
    };
  }

  private static String userType(HttpServletRequest request) {
    return type(
        "User",
        PushService.USER,
        List.of(Map.of("schema", PushService.ENTERPRISE, "required", false)),
        request);
  }

  private static String groupType(HttpServletRequest request) {
    return type("Group", PushService.GROUP, List.of(), request);
  }

  private static String type(
      String name, String schema, List<Map<String, Object>> more, HttpServletRequest request) {
    var type = new LinkedHashMap<String, Object>();
    type.put("schemas", List.of(RESOURCE_TYPE));
    type.put("id", name);
    type.put("name", name);
    type.put("endpoint", "/" + name + "s");
    type.put("schema", schema);
    type.put("schemaExtensions", more);
    type.put("meta", Scim.meta("ResourceType", Scim.base(request) + "/ResourceTypes/" + name));
    return JSON.writeValueAsString(type);
  }

  @Needs(Permission.PUSH_PEOPLE)
  @GetMapping("/Schemas")
  String schemas(Actor actor, HttpServletRequest request) {
    return Scim.list(List.copyOf(PushService.schemas(Scim.base(request)).values()));
  }

  @Needs(Permission.PUSH_PEOPLE)
  @GetMapping("/Schemas/{urn}")
  String schema(@PathVariable String urn, Actor actor, HttpServletRequest request) {
    var schema = PushService.schemas(Scim.base(request)).get(urn);
    if (schema == null) {
      throw Refused.notThere("There is no Schema %s.".formatted(urn));
    }
    return schema;
  }
}
