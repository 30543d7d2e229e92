package glenmoor.core.access;

import glenmoor.core.applications.Application;
import glenmoor.core.brakes.Brakes;
import glenmoor.core.conditions.Expressions;
import glenmoor.core.lifecycle.Source;
import glenmoor.core.people.FactDefinition;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.jspecify.annotations.NullMarked;

/**
 * All definitions in force, ready to compute with.
 *
 * @param revision rises with each load of definitions
 * @param zone the organisation's zone: a date begins at its midnight there
 * @param applications in the order in which their accounts have to be planned
 */
@NullMarked
public record Catalogue(
    long revision,
    ZoneId zone,
    Map<String, FactDefinition> facts,
    Expressions expressions,
    Map<String, Source> sources,
    List<Application> applications,
    Map<String, Entitlement> entitlements,
    Map<String, RolePackage> packages,
    List<Birthright> birthrights,
    Brakes feedBrakes,
    Brakes definitionBrakes) {

  /**
   * The application by its key.
   *
   * @throws IllegalArgumentException if there is none
   */
  public Application application(String key) {
    return applications.stream()
        .filter(application -> application.key().equals(key))
        .findFirst()
        .orElseThrow(() -> new IllegalArgumentException("There is no application " + key));
  }

  /** The entitlements a grant gives; those of a package that is no longer defined are none. */
  public Stream<Entitlement> given(Grant.Target target) {
    var keys =
        switch (target) {
          case Grant.Target.OfEntitlement one -> List.of(one.key());
          case Grant.Target.OfPackage bundle -> {
            var known = packages.get(bundle.key());
            yield known == null ? List.<String>of() : known.entitlements();
          }
        };
    return keys.stream().filter(entitlements::containsKey).map(entitlements::get);
  }
}
