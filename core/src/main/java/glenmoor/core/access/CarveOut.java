package glenmoor.core.access;

import glenmoor.core.access.Grant.Basis;
import java.util.List;
import java.util.stream.Collectors;
import org.jspecify.annotations.NullMarked;

/**
 * One right that somebody is not given any more although a grant of theirs would: what was revoked
 * of a package whose rest they keep. It lasts until somebody releases it. A grant that begins later
 * than it by a decision, such as an approved request, gives the right again; a rule does not.
 *
 * @param entitlement key
 * @param grant the one it is carved out of; {@link #EVERY_RULE} for all that rules give
 */
@NullMarked
public record CarveOut(String entitlement, long grant) {
  /** No rule gives it, whichever package it gives and whenever its grant begins. */
  public static final long EVERY_RULE = 0;

  public boolean concerns(Grant other) {
    return grant == EVERY_RULE ? other.basis() == Basis.BIRTHRIGHT : other.id() == grant;
  }

  /** Grants of one person without what was carved out of them. */
  public static List<Grant> of(List<Grant> grants, List<CarveOut> carveOuts) {
    return carveOuts.isEmpty()
        ? grants
        : grants.stream()
            .map(grant ->
                grant.without(
                    carveOuts.stream()
                        .filter(each -> each.concerns(grant))
                        .map(CarveOut::entitlement)
                        .collect(Collectors.toSet())))
            .toList();
  }
}
