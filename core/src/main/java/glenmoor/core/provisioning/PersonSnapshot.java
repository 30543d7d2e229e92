package glenmoor.core.provisioning;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Grant;
import glenmoor.core.access.Revocation;
import glenmoor.core.people.Person;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * All that planning for one person has to know: their facts, grants and accounts, the differences
 * that somebody answers for, and what was revoked from them.
 */
public record PersonSnapshot(
    Person person,
    List<Grant> grants,
    List<Account> accounts,
    List<AcceptedDeviation> deviations,
    List<AccountOrder> orders,
    List<Revocation> revocations) {
  public PersonSnapshot(Person person, List<Grant> grants, List<Account> accounts) {
    this(person, grants, accounts, List.of());
  }

  public PersonSnapshot(
      Person person,
      List<Grant> grants,
      List<Account> accounts,
      List<AcceptedDeviation> deviations) {
    this(person, grants, accounts, deviations, List.of(), List.of());
  }

  /** Since when something was ordered of the account in an application; nothing if it was not. */
  Optional<Instant> ordered(String application, AccountOrder.Kind kind) {
    return orders.stream()
        .filter(order -> order.application().equals(application) && order.kind() == kind)
        .map(AccountOrder::since)
        .max(Instant::compareTo);
  }

  /** Grants of the person without what is revoked at a moment. */
  public List<Grant> withoutRevoked(List<Grant> all, Catalogue catalogue, Instant at) {
    return Revocation.applied(all, revocations, catalogue, at);
  }

  public PersonSnapshot withAccounts(List<Account> changed) {
    return new PersonSnapshot(person, grants, changed, deviations, orders, revocations);
  }

  public PersonSnapshot withPerson(Person changed) {
    return new PersonSnapshot(changed, grants, accounts, deviations, orders, revocations);
  }
}
