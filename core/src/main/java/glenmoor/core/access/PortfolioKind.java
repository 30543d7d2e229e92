package glenmoor.core.access;

import com.google.auto.service.AutoService;
import glenmoor.core.applications.Application;
import glenmoor.core.applications.ApplicationKind;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;
import glenmoor.core.definitions.Concern;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.DefinitionKind;
import glenmoor.core.definitions.Loader;
import glenmoor.core.definitions.Reading;
import glenmoor.core.definitions.Tree;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.NullMarked;

/** {@code portfolio: deck}: entitlements that one team makes packages of. */
@NullMarked
@AutoService(DefinitionKind.class)
public final class PortfolioKind implements DefinitionKind<Portfolio> {
  @Override
  public String word() {
    return "portfolio";
  }

  @Override
  public KeyRule keys() {
    return PLAIN_KEY;
  }

  @Override
  public Set<String> refersTo() {
    return Set.of("application", "entitlement");
  }

  @Override
  public Concern concern(String key) {
    return Concern.NOBODY;
  }

  /** Its stewards choose what is in it. */
  @Override
  public Optional<Loader> loader(String key, Tree.Fields body) {
    return Optional.of(new Loader(Permission.TEND_PORTFOLIOS, Scope.portfolio(key)));
  }

  @Override
  public Optional<Portfolio> read(String key, Reading reading, Defined known) {
    var entitlements = RolePackageKind.entitlements(reading, known);
    for (var each : reading.texts("entitlements")) {
      closed(each.value(), key, known)
          .ifPresent(application ->
              reading.problem(
                  each.place(),
                  "%s opens its entitlements to other portfolios only; its owner has to name “%s” under open-to first."
                      .formatted(application.name(), key)));
    }
    return Optional.of(new Portfolio(key, reading.text("name", key), entitlements));
  }

  /** The application of an entitlement, where it does not let a portfolio have any. */
  private static Optional<Application> closed(String entitlement, String portfolio, Defined known) {
    return Optional.ofNullable(known.all(EntitlementKind.class).get(entitlement))
        .map(each -> known.all(ApplicationKind.class).get(each.application()))
        .filter(each -> each.openTo().filter(open -> !open.contains(portfolio)).isPresent());
  }
}
