package glenmoor.core.access;

import glenmoor.core.applications.AccountState;
import glenmoor.core.applications.Application;
import glenmoor.core.applications.Application.WhileOnLeave;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Person;
import glenmoor.core.people.Standing;
import java.time.Instant;
import java.util.Collections;
import java.util.List;
import java.util.SortedSet;
import java.util.TreeSet;
import java.util.function.Predicate;
import org.jspecify.annotations.NullMarked;

/**
 * What one person should have in one application at a moment: the union over their grants in force,
 * if their standing allows.
 *
 * @param account enabled, disabled (made ready, or suspended), or none
 * @param entitlements keys
 */
@NullMarked
public record DesiredAccess(
    Application application, AccountState account, SortedSet<String> entitlements) {

  /**
   * Computes it for one application.
   *
   * @param there whether the person has an account in it: whoever is expected again, because their
   *     first day was moved, keeps it, disabled
   */
  public static DesiredAccess of(
      Application application,
      Person person,
      List<Grant> grants,
      boolean there,
      Catalogue catalogue,
      Instant now) {
    var today = now.atZone(catalogue.zone()).toLocalDate();
    return switch (Standing.of(person, today)) {
      case LEFT, ERASED -> none(application);
      case EXPECTED -> {
        var readyFrom =
            person
                .facts()
                .date(Facts.START)
                .map(start -> start.minusDays(application.lifecycle().readyDaysAhead()));
        var soon = readyFrom.filter(day -> !today.isBefore(day)).isPresent();
        var lasting = grants.stream().filter(grant -> !grant.over(now));
        var any = lasting.flatMap(catalogue::given).anyMatch(in(application));
        yield (soon || there) && any
            ? new DesiredAccess(application, AccountState.DISABLED, Collections.emptySortedSet())
            : none(application);
      }
      case ACTIVE -> granted(application, grants, catalogue, now, AccountState.ENABLED);
      case ON_LEAVE ->
          granted(
              application,
              grants,
              catalogue,
              now,
              application.lifecycle().onLeave() == WhileOnLeave.DISABLE
                  ? AccountState.DISABLED
                  : AccountState.ENABLED);
    };
  }

  /** The same with the account kept disabled, where there shall be one. */
  public DesiredAccess disabled() {
    return account == AccountState.ENABLED
        ? new DesiredAccess(application, AccountState.DISABLED, entitlements)
        : this;
  }

  private static DesiredAccess none(Application application) {
    return new DesiredAccess(application, AccountState.NONE, Collections.emptySortedSet());
  }

  private static Predicate<Entitlement> in(Application application) {
    return entitlement -> entitlement.application().equals(application.key());
  }

  private static DesiredAccess granted(
      Application application,
      List<Grant> grants,
      Catalogue catalogue,
      Instant now,
      AccountState state) {
    var keys = new TreeSet<String>();
    grants.stream()
        .filter(grant -> grant.inForce(now))
        .flatMap(catalogue::given)
        .filter(in(application))
        .map(Entitlement::key)
        .forEach(keys::add);
    return keys.isEmpty() ? none(application) : new DesiredAccess(application, state, keys);
  }
}
