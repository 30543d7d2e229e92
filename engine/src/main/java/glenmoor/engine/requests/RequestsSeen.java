package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.RolePackage;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;
import glenmoor.store.requests.RequestMapper.Within;
import java.util.Collection;
import java.util.List;
import java.util.function.Predicate;
import tools.jackson.databind.json.JsonMapper;

/**
 * Which requests somebody sees by their duties: all of them, those of a portfolio, or those that
 * give something in an application.
 */
final class RequestsSeen {
  private static final JsonMapper JSON = JsonMapper.shared();

  private RequestsSeen() {}

  /** Whether the actor sees asks for a package with what answers select. */
  static boolean sees(
      Actor actor, String rolePackage, Collection<String> selected, Catalogue catalogue) {
    if (actor.may(Permission.SEE_REQUESTS)) {
      return true;
    }
    var found = catalogue.packages().get(rolePackage);
    return found != null && sees(actor, found)
        || found != null
            && found.entitlements().stream().anyMatch(key -> sees(actor, key, catalogue))
        || selected.stream().anyMatch(key -> sees(actor, key, catalogue));
  }

  private static boolean sees(Actor actor, RolePackage each) {
    return !each.portfolio().isEmpty()
        && actor.may(Permission.SEE_REQUESTS, Scope.portfolio(each.portfolio()));
  }

  private static boolean sees(Actor actor, String entitlement, Catalogue catalogue) {
    var found = catalogue.entitlements().get(entitlement);
    return found != null
        && actor.may(Permission.SEE_REQUESTS, Scope.application(found.application()));
  }

  /** The same as a list of lines asks for it; empty where all are seen. */
  static List<Within> within(Actor actor, Catalogue catalogue) {
    return actor.may(Permission.SEE_REQUESTS)
        ? List.of()
        : List.of(
            within(
                each -> sees(actor, each), each -> sees(actor, each.key(), catalogue), catalogue));
  }

  /** Lines that give some entitlements, as a list asks for them. */
  static Within giving(Predicate<Entitlement> wanted, Catalogue catalogue) {
    return within(each -> false, wanted, catalogue);
  }

  private static Within within(
      Predicate<RolePackage> packages, Predicate<Entitlement> entitlements, Catalogue catalogue) {
    var wanted =
        catalogue.entitlements().values().stream()
            .filter(entitlements)
            .map(Entitlement::key)
            .toList();
    return new Within(
        catalogue.packages().values().stream()
            .filter(each ->
                packages.test(each) || each.entitlements().stream().anyMatch(wanted::contains))
            .map(RolePackage::key)
            .toList(),
        JSON.writeValueAsString(wanted));
  }
}
