package glenmoor.core.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Grant;
import glenmoor.core.access.Grant.Basis;
import glenmoor.core.access.GrantedBy;
import glenmoor.core.access.RolePackage;
import glenmoor.core.conditions.Unanswerable;
import glenmoor.core.people.Person;
import glenmoor.core.people.Standing;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * What was asked for, given directly or adopted ends when somebody leaves: whoever comes back asks
 * again. Before that it ends by its own date, by a decision, with the retirement of its package,
 * or, where its offer says so, once the person is no longer in the offer's audience.
 */
public final class GivenGrants {
  private GivenGrants() {}

  /** Those of the grants that end now, or sooner than they would have, with the reason. */
  public static List<Grant> ended(
      Person person, List<Grant> grants, Catalogue catalogue, Instant now) {
    var given =
        grants.stream()
            .filter(grant -> grant.basis() != Basis.BIRTHRIGHT)
            .filter(grant -> !grant.over(now))
            .toList();
    if (given.isEmpty()) {
      return List.of();
    }
    // Whoever was cut off has no access, but may have been cut off by mistake: until their source
    // says
    // that they have left, what they were given waits for them.
    var standing = Standing.of(person.bySource(), now.atZone(catalogue.zone()).toLocalDate());
    if (standing.isGone()) {
      return given.stream().map(grant -> grant.ending(now, "left")).toList();
    }
    var offers = catalogue.defined().all(OfferKind.class);
    var view = catalogue.expressions().view(person);
    return given.stream()
        .flatMap(grant ->
            leftAudience(grant, offers, view)
                ? Stream.of(grant.ending(now, "no longer in the audience of its offer"))
                : retired(grant, catalogue, now).stream())
        .toList();
  }

  /** The same grant with the end that its package's retirement brings, where that is sooner. */
  private static Optional<Grant> retired(Grant grant, Catalogue catalogue, Instant now) {
    return Optional.of(grant.target())
        .filter(Grant.Target.OfPackage.class::isInstance)
        .flatMap(target -> Optional.ofNullable(catalogue.packages().get(target.key())))
        .flatMap(RolePackage::retired)
        .flatMap(retirement -> retirement.end(catalogue.zone()))
        .map(end -> end.isBefore(now) ? now : end)
        .filter(end -> grant.endsAt() == null || end.isBefore(grant.endsAt()))
        .map(end -> grant.ending(end, "its package is retired"));
  }

  private static boolean leftAudience(
      Grant grant, Map<String, Offer> offers, Map<String, Object> view) {
    return GrantedBy.of(grant.basisKey())
        .flatMap(by -> Optional.ofNullable(offers.get(by.offer())))
        .filter(Offer::whileInAudience)
        .flatMap(Offer::audience)
        .filter(audience -> {
          try {
            return !audience.holds(view);
          } catch (Unanswerable failed) {
            // What cannot be answered takes nothing away.
            return false;
          }
        })
        .isPresent();
  }
}
