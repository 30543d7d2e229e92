package glenmoor.engine.provisioning;

import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.provisioning.ProvisioningCommand;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.store.people.PersonRow;
import jakarta.inject.Named;
import java.util.Map;
import java.util.Optional;

/** Gives accounts new passwords that nobody knows yet. */
@Named
public final class Passcodes {
  /** A passcode that was issued: shown once, kept nowhere in the open. */
  public record Issued(long operation, String account, String passcode) {}

  private final SingleOrders orders;
  private final Secrets secrets;
  private final Ledger ledger;
  private final Clock clock;

  Passcodes(SingleOrders orders, Secrets secrets, Ledger ledger, Clock clock) {
    this.orders = orders;
    this.secrets = secrets;
    this.ledger = ledger;
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
    var passcode = secrets.passcode();
    var queued =
        orders.queue(
            person,
            application,
            new ProvisioningCommand.SetPassword(secrets.seal(passcode), unless),
            cause);
    queued.ifPresent(found ->
        ledger.append(
            new LedgerEntry(
                clock.instant(),
                by,
                cause.startsWith("asked:") ? "" : cause,
                "person:" + person.workerNumber(),
                "passcode-issued",
                Map.of(),
                Map.of("application", application, "account", found.account()))));
    return queued.map(found -> new Issued(found.operation(), found.account(), passcode));
  }
}
