package glenmoor.connect.lifecycle;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.unboundid.scim2.common.GenericScimResource;
import com.unboundid.scim2.common.Path;
import com.unboundid.scim2.common.exceptions.ScimException;
import com.unboundid.scim2.common.messages.PatchRequest;
import com.unboundid.scim2.common.utils.JsonUtils;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * A person as a client pushes one: a SCIM User (RFC 7643 section 4.1) with the enterprise extension
 * (section 4.3), kept as it came.
 */
public final class ScimPerson {
  public static final String USER = "urn:ietf:params:scim:schemas:core:2.0:User";
  public static final String ENTERPRISE =
      "urn:ietf:params:scim:schemas:extension:enterprise:2.0:User";
  static final List<String> THE_SERVICES_OWN = List.of("id", "meta", "groups", "password");
  private static final int LONGEST = 400;

  /** What was sent cannot be used; the type is one of RFC 7644's, section 3.12. */
  public static final class Unusable extends RuntimeException {
    private static final long serialVersionUID = 1;
    private final String type;

    Unusable(String type, String sentence) {
      super(sentence);
      this.type = type;
    }

    public String type() {
      return type;
    }
  }

  private final ObjectNode resource;

  private ScimPerson(ObjectNode resource) {
    this.resource = resource;
  }

  /**
   * Reads one as it was sent, or was kept.
   *
   * @throws Unusable if it is no User
   */
  public static ScimPerson read(String json) {
    var node = object(json);
    var schemas = new ArrayList<String>();
    node.path("schemas").forEach(each -> schemas.add(each.asText()));
    if (!schemas.contains(USER)) {
      throw new Unusable("invalidValue", "schemas must name %s.".formatted(USER));
    }
    THE_SERVICES_OWN.forEach(node::remove);
    var person = new ScimPerson(node);
    if (person.userName().isBlank()) {
      throw new Unusable("invalidValue", "userName is missing.");
    }
    if (person.userName().length() > LONGEST || person.externalId().length() > LONGEST) {
      throw new Unusable(
          "invalidValue", "userName and externalId have at most %d characters.".formatted(LONGEST));
    }
    return person;
  }

  static ObjectNode object(String json) {
    if (!(tree(json) instanceof ObjectNode node)) {
      throw new Unusable("invalidSyntax", "The body is no JSON object.");
    }
    return node;
  }

  private static JsonNode tree(String json) {
    try {
      return JsonUtils.getObjectReader().readTree(json);
    } catch (JsonProcessingException bad) {
      throw new Unusable("invalidSyntax", "The body is no JSON.");
    } catch (java.io.IOException bad) {
      throw new Unusable("invalidSyntax", "The body is no JSON.");
    }
  }

  public String userName() {
    return resource.path("userName").asText("");
  }

  public String externalId() {
    return resource.path("externalId").asText("");
  }

  /** Whether they are to have anything; a client that does not say so means yes. */
  public boolean active() {
    return resource.path("active").asBoolean(true);
  }

  /**
   * The text at a path (RFC 7644 section 3.10), such as {@code name.givenName} or {@code
   * urn:…:User:department}; empty where there is none.
   *
   * @throws Unusable if it is no path
   */
  public String text(String path) {
    return text(resource, path);
  }

  static String text(ObjectNode resource, String path) {
    try {
      var found = JsonUtils.findMatchingPaths(Path.fromString(path), resource);
      if (found.isEmpty()) {
        return "";
      }
      var first = found.getFirst();
      if (first instanceof ArrayNode array) {
        first = array.isEmpty() ? array : array.get(0);
      }
      return first.isValueNode() && !first.isNull() ? first.asText() : "";
    } catch (ScimException bad) {
      throw new Unusable("invalidPath", "“%s” is no path of SCIM.".formatted(path));
    }
  }

  /**
   * The same after a patch (RFC 7644 section 3.5.2).
   *
   * @throws Unusable if it is no patch, or cannot be applied
   */
  public ScimPerson patched(String json) {
    try {
      var patch =
          JsonUtils.getObjectReader().forType(PatchRequest.class).<PatchRequest>readValue(json);
      var changed = new GenericScimResource(resource.deepCopy());
      patch.apply(changed);
      return read(changed.getObjectNode().toString());
    } catch (ScimException bad) {
      throw new Unusable(
          Optional.ofNullable(bad.getScimError().getScimType()).orElse("invalidValue"),
          String.valueOf(bad.getMessage()));
    } catch (java.io.IOException | IllegalArgumentException bad) {
      throw new Unusable("invalidSyntax", "The body is no PatchOp of SCIM.");
    }
  }

  /** As it is kept: without what the service adds. */
  public String kept() {
    return resource.toString();
  }

  /**
   * As a client reads it.
   *
   * @param location where it is found
   */
  public String shown(
      String id, int version, Instant created, Instant modified, String location, ScimParts parts) {
    return parts.of(whole(id, version, created, modified, location)).toString();
  }

  /**
   * Whether a filter covers it as a client reads it.
   *
   * @throws Unusable if the filter cannot be applied to it
   */
  public boolean isWanted(
      ScimFilter filter, String id, int version, Instant created, Instant modified) {
    return filter.covers(whole(id, version, created, modified, ""));
  }

  private ObjectNode whole(
      String id, int version, Instant created, Instant modified, String location) {
    var shown = resource.deepCopy();
    shown.put("id", id);
    shown
        .putObject("meta")
        .put("resourceType", "User")
        .put("created", created.toString())
        .put("lastModified", modified.toString())
        .put("version", "W/\"" + version + "\"")
        .put("location", location);
    return shown;
  }
}
