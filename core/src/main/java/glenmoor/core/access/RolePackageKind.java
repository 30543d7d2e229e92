package glenmoor.core.access;

import com.google.auto.service.AutoService;
import glenmoor.core.definitions.Concern;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.DefinitionKind;
import glenmoor.core.definitions.Reading;
import glenmoor.core.definitions.Tree;
import java.util.HashSet;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.NullMarked;

/** {@code package: bridge-officer}: entitlements bundled for a purpose. */
@NullMarked
@AutoService(DefinitionKind.class)
public final class RolePackageKind implements DefinitionKind<RolePackage> {
  @Override
  public String word() {
    return "package";
  }

  @Override
  public Set<String> refersTo() {
    return Set.of("entitlement");
  }

  @Override
  public Concern concern(String key) {
    return Concern.holders(word(), key);
  }

  @Override
  public Optional<RolePackage> read(String key, Reading reading, Defined known) {
    var entitlements = known.all(EntitlementKind.class);
    var given = reading.texts("entitlements");
    var once = new HashSet<String>();
    for (var each : given) {
      if (!once.add(each.value())) {
        reading.problem(
            each.place(), "The entitlement “%s” is given twice; keep one.".formatted(each.value()));
      }
      if (!entitlements.containsKey(each.value())) {
        reading.problem(
            each.place(),
            "There is no entitlement “%s” to put in a package.".formatted(each.value()));
      }
    }
    return Optional.of(
        new RolePackage(
            key,
            reading.text("name", key),
            reading.text("purpose", ""),
            given.stream().map(Tree.Text::value).distinct().toList()));
  }
}
