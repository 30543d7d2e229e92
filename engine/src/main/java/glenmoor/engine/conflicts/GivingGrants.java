package glenmoor.engine.conflicts;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.Grant.Basis;
import glenmoor.store.access.GrantMapper.GrantRow;
import java.util.List;

/** What gives somebody a right, of the grants that last. */
final class GivingGrants {
  private GivingGrants() {}

  /** Those of some that give a right, by themselves or with a package. */
  static List<GrantRow> of(Entitlement entitlement, List<GrantRow> lasting, Catalogue catalogue) {
    return lasting.stream()
        .filter(grant ->
            catalogue.given(grant.target()).anyMatch(each -> each.key().equals(entitlement.key())))
        .toList();
  }

  /** Whether it can be ended; what a rule gives cannot. */
  static boolean endable(GrantRow grant) {
    return !grant.basis().equals(Basis.BIRTHRIGHT.word());
  }
}
