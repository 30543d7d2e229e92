package glenmoor.connect.applications;

import com.fasterxml.jackson.databind.node.ObjectNode;
import com.unboundid.scim2.common.Path;
import com.unboundid.scim2.common.exceptions.ScimException;
import com.unboundid.scim2.common.filters.Filter;
import com.unboundid.scim2.common.messages.PatchOperation;
import com.unboundid.scim2.common.utils.JsonUtils;
import glenmoor.connect.applications.ScimHttp.Failed;
import glenmoor.core.provisioning.Outcome;
import java.util.List;

/** Rights that are values of a user's {@code roles} (RFC 7643, section 4.1.2). */
final class ScimRoles {
  private ScimRoles() {}

  /**
   * Gives a user a role, or takes it, and looks whether it took.
   *
   * @param triedBefore whether an earlier try may have changed a part and had another effect
   */
  static Outcome set(
      ScimService service, String role, String user, boolean adding, boolean triedBefore)
      throws Failed {
    var path = "/Users/" + ScimHttp.encoded(user);
    for (var putting : List.of(triedBefore, true)) {
      if (holds(service.http().get(path, ScimHttp.USER).body(), role) == adding) {
        return new Outcome.Confirmed(user, "");
      }
      service.change(
          path,
          ScimHttp.USER,
          List.of(change(role, adding)),
          whole -> put(whole, role, adding),
          putting,
          "");
    }
    return holds(service.http().get(path, ScimHttp.USER).body(), role) == adding
        ? new Outcome.Confirmed(user, "")
        : ScimConnector.unchanged("user's roles");
  }

  private static PatchOperation change(String role, boolean adding) {
    try {
      var value = JsonUtils.getJsonNodeFactory().arrayNode();
      value.addObject().put("value", role);
      return adding
          ? PatchOperation.add(Path.fromString("roles"), value)
          : PatchOperation.remove(Path.root().attribute("roles", Filter.eq("value", role)));
    } catch (ScimException impossible) {
      throw new IllegalStateException(impossible);
    }
  }

  private static void put(ObjectNode user, String role, boolean adding) {
    var before = user.path("roles").deepCopy();
    var after = user.putArray("roles");
    before.forEach(each -> {
      if (!each.path("value").asText("").equals(role)) {
        after.add(each);
      }
    });
    if (adding) {
      after.addObject().put("value", role);
    }
  }

  private static boolean holds(ObjectNode user, String role) {
    for (var held : user.path("roles")) {
      if (held.path("value").asText("").equals(role)) {
        return true;
      }
    }
    return false;
  }
}
