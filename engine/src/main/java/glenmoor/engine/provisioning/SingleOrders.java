package glenmoor.engine.provisioning;

import glenmoor.core.provisioning.ProvisioningCommand;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.store.Bulk;
import glenmoor.store.Ids;
import glenmoor.store.people.PersonRow;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.AccountMapper.AccountRow;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.provisioning.OperationMapper.LaneRow;
import glenmoor.store.provisioning.OperationMapper.OperationRow;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/** Queues single operations that do not follow from what somebody is to have. */
@Named
public final class SingleOrders {
  private final AccountMapper accounts;
  private final OperationMapper operations;
  private final Overtaking overtaking;
  private final Bulk bulk;
  private final Ledger ledger;
  private final Ids ids;
  private final Clock clock;

  SingleOrders(
      AccountMapper accounts,
      OperationMapper operations,
      Bulk bulk,
      Ledger ledger,
      Ids ids,
      Clock clock) {
    overtaking = new Overtaking(operations);
    this.accounts = accounts;
    this.operations = operations;
    this.bulk = bulk;
    this.ledger = ledger;
    this.ids = ids;
    this.clock = clock;
  }

  /** An operation that waits, and what the account is called. */
  public record Queued(long operation, String account) {}

  /** Whether somebody has an account in an application, or is to have one. */
  public boolean hasAccount(PersonRow person, String application) {
    return account(person, application).isPresent();
  }

  private Optional<AccountRow> account(PersonRow person, String application) {
    return accounts.of(List.of(person.id())).stream()
        .filter(each -> each.application().equals(application))
        .filter(each -> !each.state().equals("none"))
        .findFirst();
  }

  /**
   * Queues a command for somebody's account in an application, inside the caller's transaction;
   * what waits there about the same side of it is overtaken.
   *
   * @param cause what the operation follows from
   * @return nothing where they have no account there
   */
  public Optional<Queued> queue(
      PersonRow person, String application, ProvisioningCommand command, String cause) {
    return account(person, application).map(found -> queue(found, command, cause));
  }

  private Queued queue(AccountRow account, ProvisioningCommand command, String cause) {
    var operation = ids.next();
    var now = clock.instant();
    ledger.append(
        overtaking
            .by(List.of(new Overtaking.New(operation, account.id(), command, false)), now)
            .entries());
    bulk.insert("operation", List.of(row(operation, account, command, cause, now)));
    accounts.nextSequence(account.id(), account.nextSequence() + 1);
    operations.due(List.of(new LaneRow(account.id(), account.application(), now)));
    return new Queued(operation, account.name());
  }

  private static OperationRow row(
      long id, AccountRow account, ProvisioningCommand command, String cause, Instant now) {
    return OperationRow.waiting(
        id,
        account.id(),
        account.personId(),
        account.application(),
        null,
        cause,
        account.nextSequence(),
        command.word(),
        false,
        CommandJson.write(command),
        now);
  }
}
