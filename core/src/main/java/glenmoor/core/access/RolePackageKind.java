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
import java.util.HashSet;
import java.util.List;
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
    return Set.of("entitlement", "portfolio");
  }

  @Override
  public Concern concern(String key) {
    return Concern.holders(word(), key);
  }

  /** The bundlers of its portfolio build it. */
  @Override
  public Optional<Loader> loader(String key, Tree.Fields body) {
    return body.text("portfolio")
        .map(portfolio -> new Loader(Permission.BUNDLE, Scope.portfolio(portfolio)));
  }

  @Override
  public Optional<RolePackage> read(String key, Reading reading, Defined known) {
    var entitlements = entitlements(reading, known);
    var portfolio = reading.text("portfolio");
    portfolio.ifPresent(named -> within(named, reading, known));
    return Optional.of(
        new RolePackage(
            key,
            reading.text("name", key),
            reading.text("purpose", ""),
            entitlements,
            portfolio.orElse(""),
            reading.texts("tags").stream().map(Tree.Text::value).distinct().toList(),
            retired(reading)));
  }

  private static Optional<Retirement> retired(Reading reading) {
    var text = reading.text("retired");
    var retired = text.flatMap(Retirement::of);
    if (text.isPresent() && retired.isEmpty()) {
      reading.problem(
          reading.place("retired"),
          "retired is “%s”; say what becomes of what people have: %s."
              .formatted(text.get(), Retirement.EXAMPLES));
    }
    return retired;
  }

  private static void within(String portfolio, Reading reading, Defined known) {
    var all = known.all(PortfolioKind.class);
    var found = all.get(portfolio);
    if (found == null) {
      reading.problem(
          reading.place("portfolio"),
          "There is no portfolio “%s”; there are %s."
              .formatted(portfolio, String.join(", ", all.keySet())));
      return;
    }
    for (var each : reading.texts("entitlements")) {
      if (!found.entitlements().contains(each.value())) {
        reading.problem(
            each.place(),
            "The entitlement “%s” is not in the portfolio %s, so no package of it can give it."
                .formatted(each.value(), portfolio));
      }
    }
  }

  /** The entitlements that a document lists; what there is none of, or is listed twice, is said. */
  static List<String> entitlements(Reading reading, Defined known) {
    var all = known.all(EntitlementKind.class);
    var given = reading.texts("entitlements");
    var once = new HashSet<String>();
    for (var each : given) {
      if (!once.add(each.value())) {
        reading.problem(
            each.place(), "The entitlement “%s” is given twice; keep one.".formatted(each.value()));
      }
      if (!all.containsKey(each.value())) {
        reading.problem(
            each.place(), "There is no entitlement “%s” to put in here.".formatted(each.value()));
      }
    }
    return given.stream().map(Tree.Text::value).distinct().toList();
  }
}
