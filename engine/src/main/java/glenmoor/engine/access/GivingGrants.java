package glenmoor.engine.access;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.Grant;
import glenmoor.core.access.Grant.Basis;
import java.util.List;
import org.jspecify.annotations.NullMarked;

/** What gives somebody a right, of the grants that last. */
@NullMarked
public final class GivingGrants {
  private GivingGrants() {}

  /** Those of some that give a right, by themselves or with a package. */
  public static List<Grant> of(Entitlement entitlement, List<Grant> lasting, Catalogue catalogue) {
    return lasting.stream()
        .filter(
            grant -> catalogue.given(grant).anyMatch(each -> each.key().equals(entitlement.key())))
        .toList();
  }

  /** Whether a rule gives it: it is carved out then, and does not end. */
  public static boolean byRule(Grant grant) {
    return grant.basis() == Basis.BIRTHRIGHT;
  }
}
