package glenmoor.core.access;

import com.google.auto.service.AutoService;
import glenmoor.core.conditions.Compiling;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.DefinitionKind;
import glenmoor.core.definitions.Reading;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.NullMarked;

/** {@code birthright: everyone}: a rule that gives a package to all who meet a condition. */
@NullMarked
@AutoService(DefinitionKind.class)
public final class BirthrightKind implements DefinitionKind<Birthright> {
  @Override
  public String word() {
    return "birthright";
  }

  @Override
  public Set<String> refersTo() {
    return Set.of("fact", "package");
  }

  @Override
  public Optional<Birthright> read(String key, Reading reading, Defined known) {
    var given = reading.needed("package", "which package it gives");
    var packages = known.all(RolePackageKind.class);
    if (packages.containsKey(given) && packages.get(given).retired().isPresent()) {
      reading.problem(
          reading.place("package"),
          "The package %s is retired, so no rule gives it: drop this rule first, or with it."
              .formatted(given));
    }
    if (!given.isEmpty() && !packages.containsKey(given)) {
      reading.problem(reading.place("package"), "There is no package “%s”.".formatted(given));
    }
    var where = new Compiling(reading, known).condition("where");
    var grace = reading.days("grace", 0);
    return where.map(condition -> new Birthright(key, given, condition, grace));
  }
}
