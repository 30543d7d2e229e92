package glenmoor.core.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Grant;
import glenmoor.core.access.Grant.Basis;
import glenmoor.core.access.GrantedBy;
import glenmoor.core.conditions.Unanswerable;
import glenmoor.core.people.Person;
import glenmoor.core.people.Standing;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What was asked for, or given directly, ends when somebody leaves: whoever comes back asks again.
 * Before that it ends by its own date, by a decision, or, where its offer says so, once the person
 * is no longer in the offer's audience.
 */
public final class GivenGrants {
  private GivenGrants() {}

  /** Those of the grants that end now, with the reason. */
  public static List<Grant> ended(
      Person person, List<Grant> grants, Catalogue catalogue, Instant now) {
    var given =
        grants.stream()
            .filter(grant -> grant.basis() == Basis.REQUEST || grant.basis() == Basis.DIRECT)
            .filter(grant -> !grant.over(now))
            .toList();
    if (given.isEmpty()) {
      return List.of();
    }
    // Whoever was cut off has no access, but may have been cut off by mistake: until their source
    // says
    // that they have left, what they were given waits for them.
    var standing = Standing.of(person.bySource(), now.atZone(catalogue.zone()).toLocalDate());
    if (standing == Standing.LEFT || standing == Standing.ERASED) {
      return given.stream().map(grant -> grant.ending(now, "left")).toList();
    }
    var offers = catalogue.defined().all(OfferKind.class);
    var view = catalogue.expressions().view(person);
    return given.stream()
        .filter(grant -> leftAudience(grant, offers, view))
        .map(grant -> grant.ending(now, "no longer in the audience of its offer"))
        .toList();
  }

  private static boolean leftAudience(
      Grant grant, Map<String, Offer> offers, Map<String, Object> view) {
    return GrantedBy.of(grant.basisKey())
        .filter(by -> grant.basis() == Basis.REQUEST)
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
