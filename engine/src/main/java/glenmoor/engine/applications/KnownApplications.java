package glenmoor.engine.applications;

import glenmoor.core.applications.Application;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import jakarta.inject.Named;
import java.util.List;
import java.util.stream.Collectors;

/** Applications as far as somebody may know of them. */
@Named
public final class KnownApplications {
  private final Catalogues catalogues;

  KnownApplications(Catalogues catalogues) {
    this.catalogues = catalogues;
  }

  /**
   * An application that somebody asks something of.
   *
   * @param permission what is to be done to it
   * @throws Refused if it is not there as far as the actor may know, or they may not do that to it
   */
  public Application of(String key, Permission permission, Actor actor) {
    Authorization.applications(actor, permission);
    var seen = seen(actor);
    var application =
        seen.stream()
            .filter(each -> each.key().equals(key))
            .findFirst()
            .orElseThrow(() ->
                Refused.notThere(
                    "There is no application %s; there are %s."
                        .formatted(
                            key,
                            seen.stream()
                                .map(Application::key)
                                .collect(Collectors.joining(", ")))));
    Authorization.need(actor, permission, Scope.application(key));
    return application;
  }

  /** Those that somebody may see, in the order in which their accounts are planned. */
  private List<Application> seen(Actor actor) {
    var reach = Authorization.applications(actor, Permission.SEE_APPLICATIONS);
    return catalogues.current().applications().stream()
        .filter(each -> reach.covers(each.key()))
        .toList();
  }
}
