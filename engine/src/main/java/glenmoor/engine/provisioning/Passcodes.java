package glenmoor.engine.provisioning;

import glenmoor.core.ledger.LedgerEntry;
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
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Gives accounts new passwords that nobody knows yet. */
@Named
public final class Passcodes {
  /** A passcode that was issued: shown once, kept nowhere in the open. */
  public record Issued(long operation, String account, String passcode) {}

  private final AccountMapper accounts;
  private final OperationMapper operations;
  private final Overtaking overtaking;
  private final Secrets secrets;
  private final Bulk bulk;
  private final Ledger ledger;
  private final Ids ids;
  private final Clock clock;

  public Passcodes(
      AccountMapper accounts,
      OperationMapper operations,
      Secrets secrets,
      Bulk bulk,
      Ledger ledger,
      Ids ids,
      Clock clock) {
    overtaking = new Overtaking(operations);
    this.accounts = accounts;
    this.operations = operations;
    this.secrets = secrets;
    this.bulk = bulk;
    this.ledger = ledger;
    this.ids = ids;
    this.clock = clock;
  }

  /**
   * Queues a new password for somebody's account in an application, inside the caller's
   * transaction.
   *
   * @param by who has it issued
   * @param cause what the operation follows from
   * @return nothing where they have no account there
   */
  public Optional<Issued> issue(PersonRow person, String application, String by, String cause) {
    return issue(person, application, "", by, cause);
  }

  /**
   * Queues a password that nobody learns, inside the caller's transaction.
   *
   * @param unless the mark of the password it replaces; empty to do it whatever there is
   */
  public Optional<Issued> replace(
      PersonRow person, String application, String unless, String cause) {
    return issue(person, application, unless, "glenmoor", cause);
  }

  private Optional<Issued> issue(
      PersonRow person, String application, String unless, String by, String cause) {
    var account =
        accounts.of(List.of(person.id())).stream()
            .filter(each -> each.application().equals(application))
            .filter(each -> !each.state().equals("none"))
            .findFirst();
    return account.map(found -> issue(person, found, unless, by, cause));
  }

  private Issued issue(
      PersonRow person, AccountRow account, String unless, String by, String cause) {
    var passcode = secrets.passcode();
    var operation = ids.next();
    var now = clock.instant();
    var overtaken =
        overtaking.by(
            List.of(
                new Overtaking.New(
                    operation, account.id(), new ProvisioningCommand.SetPassword(""), false)),
            now);
    ledger.append(overtaken.entries());
    bulk.insert("operation", List.of(setPassword(operation, account, cause, passcode, unless)));
    accounts.nextSequence(account.id(), account.nextSequence() + 1);
    operations.due(List.of(new LaneRow(account.id(), account.application(), now)));
    ledger.append(
        new LedgerEntry(
            now,
            by,
            cause.startsWith("asked:") ? "" : cause,
            "person:" + person.workerNumber(),
            "passcode-issued",
            Map.of(),
            Map.of("application", account.application(), "account", account.name())));
    return new Issued(operation, account.name(), passcode);
  }

  private OperationRow setPassword(
      long id, AccountRow account, String cause, String passcode, String unless) {
    var now = clock.instant();
    var command = new ProvisioningCommand.SetPassword(secrets.seal(passcode), unless);
    return new OperationRow(
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
        "waiting",
        0,
        now,
        "",
        now,
        null,
        null,
        "",
        0L);
  }
}
