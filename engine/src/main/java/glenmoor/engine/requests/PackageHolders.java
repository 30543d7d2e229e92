package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Grant.Basis;
import glenmoor.core.access.GrantedBy;
import glenmoor.core.access.RolePackage;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;
import glenmoor.core.people.ValueCount;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.time.Clock;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.access.GrantMapper.HolderRow;
import glenmoor.store.people.FactsJson;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Who has a package, for those who look after its portfolio. */
@Named
public final class PackageHolders {
  /**
   * Somebody who has it, or will.
   *
   * @param by the offer or the birthright it came by
   * @param endable whether the actor may end it
   */
  public record PackageHolder(
      long grant,
      String worker,
      String name,
      String detail,
      String basis,
      String by,
      Instant from,
      @Nullable Instant to,
      boolean endable) {}

  /**
   * How many have it, by what groups people here.
   *
   * @param groupedBy the name of that fact; empty where none is
   */
  public record HeldAcross(String name, String groupedBy, List<ValueCount> groups) {}

  private final GrantMapper grants;
  private final Catalogues catalogues;
  private final Clock clock;

  PackageHolders(GrantMapper grants, Catalogues catalogues, Clock clock) {
    this.grants = grants;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  /**
   * Who has a package, by the order in which they were given it.
   *
   * @throws Refused as if there were none where the actor does not look after its portfolio
   */
  public List<PackageHolder> list(
      String portfolio, String rolePackage, long after, int limit, Actor actor) {
    var catalogue = catalogues.current();
    var found = looksAfter(portfolio, rolePackage, catalogue, actor);
    var ends = actor.may(Permission.END_GRANTS, Scope.portfolio(portfolio));
    return grants.held(found.key(), clock.instant(), after, limit).stream()
        .map(row -> shown(row, ends, catalogue))
        .toList();
  }

  /** How many have it, by what groups people here; refused as {@link #list}. */
  public HeldAcross across(String portfolio, String rolePackage, Actor actor) {
    var catalogue = catalogues.current();
    var found = looksAfter(portfolio, rolePackage, catalogue, actor);
    return catalogue
        .grouping()
        .map(fact ->
            new HeldAcross(
                found.name(), fact.name(), grants.heldBy(found.key(), fact.key(), clock.instant())))
        .orElseGet(() -> new HeldAcross(found.name(), "", List.of()));
  }

  private static RolePackage looksAfter(
      String portfolio, String rolePackage, Catalogue catalogue, Actor actor) {
    Optional<RolePackage> found =
        Optional.ofNullable(catalogue.packages().get(rolePackage))
            .filter(each -> each.portfolio().equals(portfolio))
            .filter(each -> actor.may(Permission.SEE_PORTFOLIOS, Scope.portfolio(portfolio)));
    return found.orElseThrow(() ->
        Refused.notThere(
            "There is no package “%s” of a portfolio that you look after.".formatted(rolePackage)));
  }

  private static PackageHolder shown(HolderRow row, boolean ends, Catalogue catalogue) {
    var given = row.basis().equals(Basis.REQUEST.word()) || row.basis().equals(Basis.DIRECT.word());
    return new PackageHolder(
        row.grant(),
        row.worker(),
        row.name(),
        catalogue.subtitle(FactsJson.read(row.facts(), catalogue.facts())),
        row.basis(),
        GrantedBy.of(row.basisKey()).map(GrantedBy::offer).orElse(row.basisKey()),
        row.startsAt(),
        row.endsAt(),
        ends && given);
  }
}
