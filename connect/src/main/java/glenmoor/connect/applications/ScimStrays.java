package glenmoor.connect.applications;

import com.fasterxml.jackson.databind.node.ObjectNode;
import com.fasterxml.jackson.databind.node.TextNode;
import glenmoor.connect.applications.ScimHttp.Failed;
import glenmoor.core.provisioning.Outcome;
import java.util.List;

/** Users that are nobody's: given to somebody, or deleted. */
final class ScimStrays {
  private final ScimService service;
  private final boolean joinsByName;

  /**
   * @param joinsByName whether the application keeps no worker numbers
   */
  ScimStrays(ScimService service, boolean joinsByName) {
    this.service = service;
    this.joinsByName = joinsByName;
  }

  Outcome claim(String nativeId, String worker) {
    return on(
        nativeId,
        user -> {
          var carried = worker(user);
          if (joinsByName || carried.equals(worker)) {
            return new Outcome.Confirmed(nativeId, "");
          }
          if (!carried.isEmpty()) {
            return carriesAnother(nativeId);
          }
          service.change(
              "/Users/" + ScimHttp.encoded(nativeId),
              ScimHttp.USER,
              List.of(ScimConnector.replace("externalId", new TextNode(worker))),
              whole -> whole.put("externalId", worker),
              false,
              "");
          var after = service.byId("Users", nativeId, ScimHttp.USER);
          return after.isPresent() && worker(after.get().body()).equals(worker)
              ? new Outcome.Confirmed(nativeId, "")
              : ScimConnector.unchanged("user's externalId");
        });
  }

  Outcome delete(String nativeId) {
    return on(
        nativeId,
        user -> {
          if (!worker(user).isEmpty()) {
            return carriesAnother(nativeId);
          }
          service.http().delete("/Users/" + ScimHttp.encoded(nativeId));
          return service.byId("Users", nativeId, ScimHttp.USER).isEmpty()
              ? new Outcome.Confirmed("", "")
              : new Outcome.Unproven("The user was deleted, but is still there");
        });
  }

  private static String worker(ObjectNode user) {
    return user.path("externalId").asText("");
  }

  private static Outcome carriesAnother(String nativeId) {
    return new Outcome.Refused(
        "The user %s carries another worker number, so nothing was done with it."
            .formatted(nativeId));
  }

  private interface Work {
    Outcome apply(ObjectNode user) throws Failed;
  }

  private Outcome on(String nativeId, Work work) {
    try {
      var user = service.byId("Users", nativeId, ScimHttp.USER);
      return user.isEmpty()
          ? new Outcome.Gone("no user has that id any more")
          : work.apply(user.get().body());
    } catch (Failed failed) {
      return ScimConnector.outcome(failed);
    }
  }
}
