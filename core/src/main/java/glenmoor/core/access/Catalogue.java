package glenmoor.core.access;

import glenmoor.core.applications.Application;
import glenmoor.core.applications.ApplicationKind;
import glenmoor.core.brakes.BrakeKind;
import glenmoor.core.brakes.Brakes;
import glenmoor.core.conditions.Compiling;
import glenmoor.core.conditions.Expressions;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.Definition;
import glenmoor.core.definitions.Definitions;
import glenmoor.core.definitions.Problem;
import glenmoor.core.lifecycle.Source;
import glenmoor.core.lifecycle.SourceKind;
import glenmoor.core.people.FactDefinition;
import glenmoor.core.people.FactDefinition.Shown;
import glenmoor.core.people.FactKind;
import glenmoor.core.people.Facts;
import java.time.ZoneId;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.NullMarked;

/**
 * All definitions in force, ready to compute with.
 *
 * @param revision rises with each load of definitions
 * @param zone the organisation's zone: a date begins at its midnight there
 * @param defined the same by kind, for kinds that are computed with in their own room only
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
    Brakes definitionBrakes,
    Defined defined) {

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

  /** The same without what of it is revoked. */
  public Stream<Entitlement> given(Grant grant) {
    return given(grant.target()).filter(each -> !grant.without().contains(each.key()));
  }

  /** The plain name of what a grant gives, or its key where that is no longer defined. */
  public String name(Grant.Target target) {
    var name =
        switch (target) {
          case Grant.Target.OfEntitlement one ->
              Optional.ofNullable(entitlements.get(one.key())).map(Entitlement::plainName);
          case Grant.Target.OfPackage bundle ->
              Optional.ofNullable(packages.get(bundle.key())).map(RolePackage::name);
        };
    return name.orElse(target.key());
  }

  /** The fact by which people are grouped in forecasts and overviews; none where none says so. */
  public Optional<FactDefinition> grouping() {
    return shown(Shown.GROUPING).stream().findFirst();
  }

  /** The facts that are shown in some place, by key. */
  public List<FactDefinition> shown(Shown where) {
    return facts.values().stream()
        .filter(fact -> fact.shown().contains(where))
        .sorted(Comparator.comparing(FactDefinition::key))
        .toList();
  }

  /** What stands beside a person's name. */
  public String subtitle(Facts of) {
    return shown(Shown.SUBTITLE).stream()
        .map(fact -> of.text(fact.key()))
        .filter(text -> !text.isEmpty())
        .collect(Collectors.joining(", "));
  }

  /** What reading came to: a catalogue that can be used exactly when there is no problem. */
  public record Result(Optional<Catalogue> catalogue, List<Problem> problems) {}

  /**
   * Reads all definitions that shall be in force together.
   *
   * @param revision rises with each load of definitions
   */
  public static Result read(Collection<Definition> all, long revision, ZoneId zone) {
    var result = Definitions.read(all);
    return new Result(
        result.problems().isEmpty()
            ? Optional.of(of(result.defined(), revision, zone))
            : Optional.empty(),
        result.problems());
  }

  private static Catalogue of(Defined defined, long revision, ZoneId zone) {
    return new Catalogue(
        revision,
        zone,
        defined.all(FactKind.class),
        Compiling.expressions(defined),
        defined.all(SourceKind.class),
        ApplicationKind.inPlanningOrder(defined.all(ApplicationKind.class)),
        defined.all(EntitlementKind.class),
        defined.all(RolePackageKind.class),
        List.copyOf(defined.all(BirthrightKind.class).values()),
        BrakeKind.on("feeds", defined),
        BrakeKind.on("definitions", defined),
        defined);
  }
}
