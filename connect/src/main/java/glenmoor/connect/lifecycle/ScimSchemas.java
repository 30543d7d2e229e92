package glenmoor.connect.lifecycle;

import com.fasterxml.jackson.databind.node.ObjectNode;
import com.unboundid.scim2.common.types.EnterpriseUserExtension;
import com.unboundid.scim2.common.types.GroupResource;
import com.unboundid.scim2.common.types.UserResource;
import com.unboundid.scim2.common.utils.JsonUtils;
import com.unboundid.scim2.common.utils.SchemaUtils;
import java.beans.IntrospectionException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** The schemas of what a client may read and push (RFC 7643, section 7). */
public final class ScimSchemas {
  private static final Map<String, ObjectNode> ALL = all();

  private ScimSchemas() {}

  /**
   * JSON of each schema, by its URN.
   *
   * @param base where the door is, without a slash at its end
   */
  public static Map<String, String> shown(String base) {
    var shown = new LinkedHashMap<String, String>();
    ALL.forEach((urn, schema) -> {
      var one = schema.deepCopy();
      one.putObject("meta").put("resourceType", "Schema").put("location", base + "/Schemas/" + urn);
      shown.put(urn, one.toString());
    });
    return shown;
  }

  private static Map<String, ObjectNode> all() {
    var all = new LinkedHashMap<String, ObjectNode>();
    // What a client sends of these is passed over.
    all.put(ScimPerson.USER, schema(UserResource.class, Set.copyOf(ScimPerson.THE_SERVICES_OWN)));
    all.put(ScimPerson.ENTERPRISE, schema(EnterpriseUserExtension.class, Set.of()));
    var group = schema(GroupResource.class, Set.of());
    group.path("attributes").forEach(each -> readOnly((ObjectNode) each));
    all.put(ScimGroup.GROUP, group);
    return all;
  }

  private static void readOnly(ObjectNode attribute) {
    attribute.put("mutability", "readOnly").put("required", false);
    attribute.path("subAttributes").forEach(each -> readOnly((ObjectNode) each));
  }

  private static ObjectNode schema(Class<?> resource, Set<String> without) {
    try {
      var schema = JsonUtils.<ObjectNode>valueToNode(SchemaUtils.getSchema(resource));
      var attributes = schema.withArray("attributes");
      var kept =
          List.copyOf(
              attributes
                  .valueStream()
                  .filter(each -> !without.contains(each.path("name").asText()))
                  .toList());
      attributes.removeAll().addAll(kept);
      return schema;
    } catch (IntrospectionException impossible) {
      throw new IllegalStateException(impossible);
    }
  }
}
