package glenmoor.connect.applications;

import com.fasterxml.jackson.databind.node.ObjectNode;
import com.unboundid.scim2.common.Path;
import com.unboundid.scim2.common.exceptions.ScimException;
import com.unboundid.scim2.common.filters.Filter;
import com.unboundid.scim2.common.messages.PatchOperation;
import com.unboundid.scim2.common.utils.JsonUtils;
import glenmoor.connect.applications.ScimHttp.Failed;
import glenmoor.connect.applications.ScimService.Ambiguous;
import glenmoor.core.provisioning.Outcome;
import java.util.List;
import java.util.Optional;

/** Who is in which group of a SCIM service. */
final class ScimMembers {
  private final ScimService service;
  private final boolean makes;

  /**
   * @param makes whether a group that is missing is made
   */
  ScimMembers(ScimService service, boolean makes) {
    this.service = service;
    this.makes = makes;
  }

  boolean makes() {
    return makes;
  }

  /** Makes a user a member of a group, or makes it none, and looks whether it took. */
  Outcome set(String group, String user, boolean adding) throws Failed, Ambiguous {
    var id = id(group, adding);
    if (id.isEmpty()) {
      return missing(group, user, adding);
    }
    try {
      return set(id.get(), group, user, adding, false);
    } catch (Failed failed) {
      if (failed.status() != 404) {
        throw failed;
      }
      // The group may have another id by now.
      service.forgetGroup(group);
      var again = id(group, adding);
      if (again.isEmpty()) {
        return missing(group, user, adding);
      }
      if (again.equals(id)) {
        throw failed;
      }
      return set(again.get(), group, user, adding, false);
    }
  }

  private Optional<String> id(String group, boolean adding) throws Failed, Ambiguous {
    var known = service.groupId(group);
    if (known.isPresent() || !adding || !makes) {
      return known;
    }
    var made = JsonUtils.getJsonNodeFactory().objectNode();
    made.putArray("schemas").add(ScimHttp.GROUP);
    made.put("displayName", group);
    service.http().post("/Groups", made, ScimHttp.GROUP);
    return service.groupId(group);
  }

  private static Outcome missing(String group, String user, boolean adding) {
    return adding
        ? new Outcome.Refused(
            "There is no group %s. Make it in the application, or correct the entitlement's technical name, then try again."
                .formatted(group))
        : new Outcome.Confirmed(user, "there is no group " + group);
  }

  private Outcome set(String id, String group, String user, boolean adding, boolean putting)
      throws Failed {
    try {
      service.change(
          "/Groups/" + ScimHttp.encoded(id),
          ScimHttp.GROUP,
          List.of(change(user, adding)),
          whole -> put(whole, user, adding),
          putting,
          "");
    } catch (Failed failed) {
      if (failed.status() == 400 && !putting) {
        // A path with a filter in it is not understood everywhere.
        return set(id, group, user, adding, true);
      }
      throw failed;
    }
    if (service.isMember(id, user, adding) == adding) {
      return new Outcome.Confirmed(user, "");
    }
    return putting ? ScimConnector.unchanged("group " + group) : set(id, group, user, adding, true);
  }

  private static PatchOperation change(String user, boolean adding) {
    try {
      var value = JsonUtils.getJsonNodeFactory().arrayNode();
      value.addObject().put("value", user);
      return adding
          ? PatchOperation.add(Path.fromString("members"), value)
          : PatchOperation.remove(Path.root().attribute("members", Filter.eq("value", user)));
    } catch (ScimException impossible) {
      throw new IllegalStateException(impossible);
    }
  }

  private static void put(ObjectNode group, String user, boolean adding) {
    var before = group.path("members").deepCopy();
    var after = group.putArray("members");
    before.forEach(each -> {
      if (!each.path("value").asText("").equals(user)) {
        after.add(each);
      }
    });
    if (adding) {
      after.addObject().put("value", user);
    }
  }
}
