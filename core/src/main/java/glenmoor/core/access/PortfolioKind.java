package glenmoor.core.access;

import com.google.auto.service.AutoService;
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
    return Set.of("entitlement");
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
    return Optional.of(new Portfolio(key, reading.text("name", key), entitlements));
  }
}
