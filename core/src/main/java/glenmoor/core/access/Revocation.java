package glenmoor.core.access;

import glenmoor.core.access.Grant.Basis;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.NullMarked;

/**
 * What takes rights from somebody for good: every grant that gives nothing else ends; what gives
 * more loses the right and keeps the rest; and no rule gives it any more.
 *
 * @param ended grants that end
 * @param carved what is carved out of others
 */
@NullMarked
public record Revocation(List<Grant> ended, List<CarveOut> carved) {
  /** Whether nothing gives any of it, so that there is nothing to end. */
  public boolean isEmpty() {
    return ended.isEmpty() && carved.isEmpty();
  }

  /**
   * Takes single rights.
   *
   * @param grants of one person, without what was carved out of them before
   */
  public static Revocation ofRights(
      List<Grant> grants, Collection<String> entitlements, Catalogue catalogue, Instant now) {
    var rights = Set.copyOf(entitlements);
    var ended = new ArrayList<Grant>();
    var carved = new LinkedHashSet<CarveOut>();
    for (var grant : grants) {
      var gives = keys(grant, catalogue);
      var taken = new HashSet<>(gives);
      taken.retainAll(rights);
      if (taken.isEmpty() || grant.over(now)) {
        continue;
      }
      if (grant.basis() == Basis.BIRTHRIGHT) {
        taken.forEach(key -> carved.add(new CarveOut(key, CarveOut.EVERY_RULE)));
      } else if (taken.size() == gives.size()) {
        ended.add(grant);
      } else {
        taken.forEach(key -> carved.add(new CarveOut(key, grant.id())));
      }
    }
    return new Revocation(List.copyOf(ended), List.copyOf(carved));
  }

  /**
   * Takes a package as a whole. Of one that a rule gives, the rights go that nothing else gives
   * them.
   *
   * @param grants of one person, without what was carved out of them before
   */
  public static Revocation ofPackage(
      List<Grant> grants, String rolePackage, Catalogue catalogue, Instant now) {
    var lasting = grants.stream().filter(grant -> !grant.over(now)).toList();
    var its =
        lasting.stream()
            .filter(grant -> grant.target().equals(new Grant.Target.OfPackage(rolePackage)))
            .toList();
    var elsewhere = new HashSet<String>();
    lasting.stream()
        .filter(grant -> !its.contains(grant))
        .forEach(grant -> elsewhere.addAll(keys(grant, catalogue)));
    var ended = its.stream().filter(grant -> grant.basis() != Basis.BIRTHRIGHT).toList();
    var carved =
        its.stream()
            .filter(grant -> grant.basis() == Basis.BIRTHRIGHT)
            .flatMap(grant -> keys(grant, catalogue).stream())
            .filter(key -> !elsewhere.contains(key))
            .distinct()
            .map(key -> new CarveOut(key, CarveOut.EVERY_RULE))
            .toList();
    return new Revocation(ended, carved);
  }

  private static Set<String> keys(Grant grant, Catalogue catalogue) {
    return catalogue.given(grant).map(Entitlement::key).collect(Collectors.toSet());
  }
}
