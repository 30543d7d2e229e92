package glenmoor.core.provisioning;

import glenmoor.core.access.Grant;
import glenmoor.core.conditions.Trouble;
import glenmoor.core.people.Person;
import glenmoor.core.people.Standing;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What has to change for one person.
 *
 * @param begin grants to store
 * @param amend stored grants with another end
 * @param revoked which of these end by which revocation, by their identities
 * @param accounts accounts that are new (id 0) or others now, each with what to do in it
 * @param endedDeviations those that ran out, or about which something changed
 * @param troubles what could not be computed; what it would decide stays as it was
 * @param conflicts keys of the conflict rules that they would break with it and do not without
 * @param nextDue the next moment at which planning again may give something else
 */
public record PersonPlan(
    Person person,
    Standing standing,
    List<Grant> begin,
    List<Grant> amend,
    Map<Long, Long> revoked,
    List<AccountPlan> accounts,
    List<AcceptedDeviation> endedDeviations,
    List<Trouble> troubles,
    List<String> conflicts,
    Optional<Instant> nextDue) {

  /**
   * One account's part of the plan.
   *
   * @param before as it was, or empty for a new one
   * @param after as it will be once the orders are carried out
   * @param commands in the order of the lane
   * @param causes of each command, in the same order
   */
  public record AccountPlan(
      Optional<Account> before,
      Account after,
      List<ProvisioningCommand> commands,
      List<Cause> causes) {
    AccountPlan(Optional<Account> before, Account after, List<ProvisioningCommand> commands) {
      this(before, after, commands, List.of());
    }

    AccountPlan because(List<Cause> known) {
      return new AccountPlan(before, after, commands, known);
    }
  }

  public int operations() {
    return accounts.stream().mapToInt(account -> account.commands().size()).sum();
  }
}
