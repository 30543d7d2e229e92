package glenmoor.core.access;

import glenmoor.core.access.Grant.Basis;
import glenmoor.core.access.Grant.Target;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.NullMarked;
import org.jspecify.annotations.Nullable;

/**
 * The standing decision that one person shall not hold an entitlement, or a package.
 *
 * <p>It does not depend on what gives the entitlement when it is made: planning reads it like a
 * fact, so it holds against every birthright, now and later, against what was found in an
 * application and adopted without a decision, and against every grant that was decided before it.
 * Only a grant that somebody decides on after it gives the entitlement again. It holds from a
 * moment, since the person may have days to answer, until it is lifted.
 *
 * @param decidedAt when it was decided: a grant decided later is a new decision
 * @param from when it takes effect
 * @param until when it ends, exclusive; null while nobody has lifted it
 */
@NullMarked
public record Revocation(
    long id,
    Target target,
    Instant decidedAt,
    Instant from,
    @Nullable Instant until,
    String reason) {

  /**
   * A grant that a revocation ends.
   *
   * @param grant as it is then
   */
  public record Ended(Grant grant, Revocation by) {}

  public boolean inForce(Instant at) {
    return !at.isBefore(from) && (until == null || at.isBefore(until));
  }

  /** Whether a grant rests on nothing that was decided after this. */
  public boolean holdsAgainst(Grant grant) {
    var decided = grant.decidedAt();
    return decided == null || !decided.isAfter(decidedAt);
  }

  /** The same grants of one person, without what is revoked at a moment. */
  public static List<Grant> applied(
      List<Grant> grants, List<Revocation> revocations, Catalogue catalogue, Instant at) {
    var inForce = inForce(revocations, at);
    return inForce.isEmpty()
        ? grants
        : grants.stream()
            .map(grant -> grant.without(revoked(grant, grants, inForce, catalogue)))
            .toList();
  }

  /**
   * Those of the grants that end, because all that was given with them is revoked; what a
   * birthright gives stays, so that it gives again once the revocation is lifted.
   *
   * @param grants of one person, as they are stored
   */
  public static List<Ended> ended(
      List<Grant> grants, List<Revocation> revocations, Catalogue catalogue, Instant at) {
    var inForce = inForce(revocations, at);
    var ended = new ArrayList<Ended>();
    if (inForce.isEmpty()) {
      return ended;
    }
    for (var grant : grants) {
      if (grant.basis() == Basis.BIRTHRIGHT || grant.over(at)) {
        continue;
      }
      var together = together(grant, grants);
      var gives = keys(together, catalogue);
      var left =
          together.stream()
              .map(each -> each.without(revoked(each, grants, inForce, catalogue)))
              .anyMatch(each -> catalogue.given(each).findAny().isPresent());
      var whole = inForce.stream().filter(each -> each.takesAll(grant, grants)).findFirst();
      if (whole.isPresent() || !gives.isEmpty() && !left) {
        var by =
            whole
                .or(() ->
                    inForce.stream()
                        .filter(each -> gives.contains(each.target().key()))
                        .findFirst())
                .or(() -> inForce.stream().findFirst())
                .orElseThrow();
        ended.add(new Ended(grant.ending(at, by.reason()), by));
      }
    }
    return ended;
  }

  /** The moments at which one of them begins or ends to hold. */
  public static Stream<Instant> turns(List<Revocation> revocations) {
    return revocations.stream()
        .flatMap(each -> Stream.concat(Stream.of(each.from()), Stream.ofNullable(each.until())));
  }

  private static List<Revocation> inForce(List<Revocation> revocations, Instant at) {
    return revocations.stream().filter(each -> each.inForce(at)).toList();
  }

  /** Whether it is about the package of a grant, or about the one that a grant came with. */
  private boolean takesAll(Grant grant, List<Grant> grants) {
    if (!(target instanceof Target.OfPackage) || !holdsAgainst(grant)) {
      return false;
    }
    return together(grant, grants).stream().anyMatch(each -> target.equals(each.target()));
  }

  /** What was given in one go: a package, and what answers selected with it. */
  private static List<Grant> together(Grant grant, List<Grant> grants) {
    return GrantedBy.of(grant.basisKey()).isEmpty()
        ? List.of(grant)
        : grants.stream()
            .filter(
                each -> each.basis() == grant.basis() && each.basisKey().equals(grant.basisKey()))
            .toList();
  }

  private static Set<String> revoked(
      Grant grant, List<Grant> grants, List<Revocation> inForce, Catalogue catalogue) {
    var keys = new HashSet<String>();
    for (var each : inForce) {
      if (each.takesAll(grant, grants)) {
        keys.addAll(keys(List.of(grant), catalogue));
      } else if (each.target() instanceof Target.OfEntitlement one && each.holdsAgainst(grant)) {
        keys.add(one.key());
      }
    }
    return keys;
  }

  private static Set<String> keys(List<Grant> grants, Catalogue catalogue) {
    return grants.stream()
        .flatMap(catalogue::given)
        .map(Entitlement::key)
        .collect(Collectors.toCollection(TreeSet::new));
  }
}
