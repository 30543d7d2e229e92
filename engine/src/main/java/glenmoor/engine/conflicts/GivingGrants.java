package glenmoor.engine.conflicts;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.Grant;
import glenmoor.core.access.Grant.Basis;
import glenmoor.core.access.RolePackage;
import glenmoor.store.access.GrantMapper.GrantRow;
import java.util.List;
import java.util.Optional;

/** What gives somebody a right, of the grants that last. */
final class GivingGrants {
  private GivingGrants() {}

  static Grant.Target target(GrantRow row) {
    return row.targetKind().equals("package")
        ? new Grant.Target.OfPackage(row.targetKey())
        : new Grant.Target.OfEntitlement(row.targetKey());
  }

  /** Those of some that give a right, by themselves or with a package. */
  static List<GrantRow> of(Entitlement entitlement, List<GrantRow> lasting, Catalogue catalogue) {
    return lasting.stream()
        .filter(grant ->
            catalogue.given(target(grant)).anyMatch(each -> each.key().equals(entitlement.key())))
        .toList();
  }

  /** Whether it can be ended; what a rule gives cannot. */
  static boolean endable(GrantRow grant) {
    return !grant.basis().equals(Basis.BIRTHRIGHT.word());
  }

  /** Of the package or the right that it gives. */
  static String name(GrantRow grant, Catalogue catalogue) {
    return Optional.ofNullable(catalogue.packages().get(grant.targetKey()))
        .map(RolePackage::name)
        .or(() ->
            Optional.ofNullable(catalogue.entitlements().get(grant.targetKey()))
                .map(Entitlement::plainName))
        .orElse(grant.targetKey());
  }
}
