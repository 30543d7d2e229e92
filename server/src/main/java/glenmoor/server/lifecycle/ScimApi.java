package glenmoor.server.lifecycle;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.Refused;
import glenmoor.engine.lifecycle.PushService;
import glenmoor.engine.lifecycle.PushService.Pushed;
import glenmoor.server.authorization.Needs;
import io.swagger.v3.oas.annotations.Hidden;
import jakarta.servlet.http.HttpServletRequest;
import java.net.URI;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.ExceptionHandler;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PatchMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import tools.jackson.databind.json.JsonMapper;

/**
 * The door by which a source's client pushes people: SCIM 2.0 (RFC 7643, RFC 7644). Users with the
 * enterprise extension, filters, sorting, paging, PATCH and versions; a client sees its own people
 * only.
 */
@Hidden
@RestController
@RequestMapping(path = "/scim/v2", produces = ScimApi.SCIM)
class ScimApi {
  static final String SCIM = "application/scim+json";
  private static final String ERROR = "urn:ietf:params:scim:api:messages:2.0:Error";
  private static final String LIST = "urn:ietf:params:scim:api:messages:2.0:ListResponse";
  private static final String CONFIG =
      "urn:ietf:params:scim:schemas:core:2.0:ServiceProviderConfig";
  private static final String TYPE = "urn:ietf:params:scim:schemas:core:2.0:ResourceType";
  private static final String SCHEMA = "urn:ietf:params:scim:schemas:core:2.0:Schema";
  private static final int MOST = 500;
  private static final Pattern VERSION = Pattern.compile("(?:W/)?\"(\\d{1,9})\"");
  private static final JsonMapper JSON = JsonMapper.shared();

  private final PushService people;

  ScimApi(PushService people) {
    this.people = people;
  }

  private static String base(HttpServletRequest request) {
    var url = request.getRequestURL().toString();
    return url.substring(0, url.indexOf("/scim/v2") + "/scim/v2".length());
  }

  private static String shown(Pushed one, HttpServletRequest request) {
    return one.shown(base(request) + "/Users/" + one.id());
  }

  private static ResponseEntity<String> answer(
      HttpStatus status, Pushed one, HttpServletRequest request) {
    return ResponseEntity.status(status)
        .location(URI.create(base(request) + "/Users/" + one.id()))
        .eTag("W/\"" + one.version() + "\"")
        .body(shown(one, request));
  }

  /** The version a client knows; null where it does not say, or says that any will do. */
  private static @Nullable Integer version(@Nullable String header) {
    if (header == null || header.strip().equals("*")) {
      return null;
    }
    var found = VERSION.matcher(header.strip());
    // What is no version of ours is none that is there.
    return found.matches() ? Integer.parseInt(found.group(1)) : -1;
  }

  @Needs(Permission.PUSH_PEOPLE)
  @PostMapping(path = "/Users", consumes = MediaType.ALL_VALUE)
  ResponseEntity<String> create(@RequestBody String body, Actor actor, HttpServletRequest request) {
    return answer(HttpStatus.CREATED, people.create(body, actor), request);
  }

  @Needs(Permission.PUSH_PEOPLE)
  @GetMapping("/Users/{id}")
  ResponseEntity<String> show(
      @PathVariable String id,
      @RequestHeader(name = HttpHeaders.IF_NONE_MATCH, required = false) @Nullable String known,
      Actor actor,
      HttpServletRequest request) {
    var one = people.get(id, actor);
    var version = version(known);
    return version != null && version == one.version()
        ? ResponseEntity.status(HttpStatus.NOT_MODIFIED).build()
        : answer(HttpStatus.OK, one, request);
  }

  @Needs(Permission.PUSH_PEOPLE)
  @PutMapping(path = "/Users/{id}", consumes = MediaType.ALL_VALUE)
  ResponseEntity<String> replace(
      @PathVariable String id,
      @RequestBody String body,
      @RequestHeader(name = HttpHeaders.IF_MATCH, required = false) @Nullable String known,
      Actor actor,
      HttpServletRequest request) {
    return answer(HttpStatus.OK, people.replace(id, body, version(known), actor), request);
  }

  @Needs(Permission.PUSH_PEOPLE)
  @PatchMapping(path = "/Users/{id}", consumes = MediaType.ALL_VALUE)
  ResponseEntity<String> patch(
      @PathVariable String id,
      @RequestBody String body,
      @RequestHeader(name = HttpHeaders.IF_MATCH, required = false) @Nullable String known,
      Actor actor,
      HttpServletRequest request) {
    return answer(HttpStatus.OK, people.patch(id, body, version(known), actor), request);
  }

  @Needs(Permission.PUSH_PEOPLE)
  @DeleteMapping("/Users/{id}")
  ResponseEntity<Void> delete(
      @PathVariable String id,
      @RequestHeader(name = HttpHeaders.IF_MATCH, required = false) @Nullable String known,
      Actor actor) {
    people.delete(id, version(known), actor);
    return ResponseEntity.noContent().build();
  }

  @Needs(Permission.PUSH_PEOPLE)
  @GetMapping("/Users")
  String list(
      @RequestParam(required = false) @Nullable String filter,
      @RequestParam(required = false) @Nullable String sortBy,
      @RequestParam(defaultValue = "ascending") String sortOrder,
      @RequestParam(defaultValue = "1") int startIndex,
      @RequestParam(defaultValue = "100") int count,
      Actor actor,
      HttpServletRequest request) {
    var start = Math.max(1, startIndex);
    var page =
        people.list(
            filter,
            sortBy,
            sortOrder.equals("descending"),
            start,
            Math.clamp(count, 0, MOST),
            actor);
    return list(
        page.items().stream().map(one -> (Object) JSON.readTree(shown(one, request))).toList(),
        page.total(),
        start);
  }

  private static String list(List<Object> resources, int total, int start) {
    var list = new LinkedHashMap<String, Object>();
    list.put("schemas", List.of(LIST));
    list.put("totalResults", total);
    list.put("startIndex", start);
    list.put("itemsPerPage", resources.size());
    list.put("Resources", resources);
    return JSON.writeValueAsString(list);
  }

  /** There are none: who is in which group is Glenmoor's to say, not a source's. */
  @Needs(Permission.PUSH_PEOPLE)
  @GetMapping("/Groups")
  String groups(Actor actor) {
    return list(List.of(), 0, 1);
  }

  @Needs(Permission.PUSH_PEOPLE)
  @GetMapping("/ServiceProviderConfig")
  String config(Actor actor, HttpServletRequest request) {
    var config = new LinkedHashMap<String, Object>();
    config.put("schemas", List.of(CONFIG));
    config.put("patch", Map.of("supported", true));
    config.put("bulk", Map.of("supported", false, "maxOperations", 0, "maxPayloadSize", 0));
    config.put("filter", Map.of("supported", true, "maxResults", MOST));
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
    config.put("meta", meta("ServiceProviderConfig", base(request) + "/ServiceProviderConfig"));
    return JSON.writeValueAsString(config);
  }

  private static Map<String, Object> meta(String type, String location) {
    return Map.of("resourceType", type, "location", location);
  }

  @Needs(Permission.PUSH_PEOPLE)
  @GetMapping("/ResourceTypes")
  String types(Actor actor, HttpServletRequest request) {
    return list(List.of(userType(request)), 1, 1);
  }

  @Needs(Permission.PUSH_PEOPLE)
  @GetMapping("/ResourceTypes/User")
  String type(Actor actor, HttpServletRequest request) {
    return JSON.writeValueAsString(userType(request));
  }

  private static Map<String, Object> userType(HttpServletRequest request) {
    var type = new LinkedHashMap<String, Object>();
    type.put("schemas", List.of(TYPE));
    type.put("id", "User");
    type.put("name", "User");
    type.put("endpoint", "/Users");
    type.put("schema", PushService.USER);
    type.put(
        "schemaExtensions", List.of(Map.of("schema", PushService.ENTERPRISE, "required", false)));
    type.put("meta", meta("ResourceType", base(request) + "/ResourceTypes/User"));
    return type;
  }

  @Needs(Permission.PUSH_PEOPLE)
  @GetMapping("/Schemas")
  String schemas(Actor actor, HttpServletRequest request) {
    return list(
        List.of(
            schema(
                PushService.USER,
                "User",
                List.of("userName", "externalId", "displayName", "title", "userType"),
                request),
            schema(
                PushService.ENTERPRISE,
                "EnterpriseUser",
                List.of("employeeNumber", "costCenter", "organization", "division", "department"),
                request)),
        2,
        1);
  }

  private static Map<String, Object> schema(
      String id, String name, List<String> texts, HttpServletRequest request) {
    var attributes = new ArrayList<Map<String, Object>>();
    texts.forEach(text -> attributes.add(attribute(text, "string", List.of())));
    if (id.equals(PushService.USER)) {
      attributes.add(attribute("active", "boolean", List.of()));
      attributes.add(
          attribute(
              "name",
              "complex",
              List.of(
                  attribute("givenName", "string", List.of()),
                  attribute("familyName", "string", List.of()))));
    } else {
      attributes.add(
          attribute("manager", "complex", List.of(attribute("value", "string", List.of()))));
    }
    var schema = new LinkedHashMap<String, Object>();
    schema.put("schemas", List.of(SCHEMA));
    schema.put("id", id);
    schema.put("name", name);
    schema.put("attributes", attributes);
    schema.put("meta", meta("Schema", base(request) + "/Schemas/" + id));
    return schema;
  }

  private static Map<String, Object> attribute(
      String name, String type, List<Map<String, Object>> inside) {
    var attribute = new LinkedHashMap<String, Object>();
    attribute.put("name", name);
    attribute.put("type", type);
    attribute.put("multiValued", false);
    attribute.put("required", name.equals("userName"));
    attribute.put("caseExact", false);
    attribute.put("mutability", "readWrite");
    attribute.put("returned", "default");
    attribute.put("uniqueness", name.equals("userName") ? "server" : "none");
    if (!inside.isEmpty()) {
      attribute.put("subAttributes", inside);
    }
    return attribute;
  }

  private static ResponseEntity<String> error(HttpStatus status, String type, String detail) {
    var error = new LinkedHashMap<String, Object>();
    error.put("schemas", List.of(ERROR));
    error.put("status", String.valueOf(status.value()));
    if (!type.isEmpty()) {
      error.put("scimType", type);
    }
    error.put("detail", detail);
    return ResponseEntity.status(status)
        .contentType(MediaType.parseMediaType(SCIM))
        .body(JSON.writeValueAsString(error));
  }

  @ExceptionHandler
  ResponseEntity<String> unusable(PushService.Unusable unusable) {
    return error(HttpStatus.BAD_REQUEST, unusable.type(), String.valueOf(unusable.getMessage()));
  }

  @ExceptionHandler
  ResponseEntity<String> stale(PushService.Stale stale) {
    return error(
        HttpStatus.PRECONDITION_FAILED,
        "",
        "It was changed meanwhile: read it again, and send what should be.");
  }

  @ExceptionHandler
  ResponseEntity<String> taken(PushService.Taken taken) {
    return error(HttpStatus.CONFLICT, "uniqueness", String.valueOf(taken.getMessage()));
  }

  @ExceptionHandler
  ResponseEntity<String> refused(Refused refused) {
    return switch (refused.reason()) {
      case NOT_ALLOWED -> error(HttpStatus.FORBIDDEN, "", String.valueOf(refused.getMessage()));
      case NOT_THERE -> error(HttpStatus.NOT_FOUND, "", String.valueOf(refused.getMessage()));
      case BAD_INPUT ->
          error(HttpStatus.BAD_REQUEST, "invalidValue", String.valueOf(refused.getMessage()));
      case NOT_NOW -> error(HttpStatus.CONFLICT, "", String.valueOf(refused.getMessage()));
      case TOO_MANY ->
          error(HttpStatus.SERVICE_UNAVAILABLE, "", String.valueOf(refused.getMessage()));
    };
  }
}
