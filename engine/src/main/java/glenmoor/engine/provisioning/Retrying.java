package glenmoor.engine.provisioning;

import glenmoor.core.authorization.Actor;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.provisioning.Account;
import glenmoor.core.provisioning.OperationState.RetryPolicy;
import glenmoor.core.provisioning.OperationState.Transition;
import glenmoor.core.provisioning.ProvisioningCommand;
import glenmoor.engine.ledger.Ledger;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.OperationMapper;
import glenmoor.store.provisioning.OperationMapper.OperationRow;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import tools.jackson.databind.json.JsonMapper;

/**
 * Tries operations again by planning their people anew: the old orders are superseded, the sides of
 * the accounts they were about are planned as they were last seen, and planning finds whatever is
 * still missing, from the facts, definitions and grants of now.
 */
final class Retrying {
  private static final JsonMapper JSON = JsonMapper.shared();

  /** What is tried again: the old operations, and the accounts as they are planned without them. */
  record Again(List<OperationRow> operations, Map<Long, Account> accounts) {
    Set<Long> people() {
      return accounts.values().stream()
          .map(each -> each.person().value())
          .collect(Collectors.toSet());
    }
  }

  private final OperationMapper operations;
  private final AccountMapper accounts;
  private final PersonMapper people;
  private final PersonSnapshots snapshots;
  private final Ledger ledger;

  Retrying(
      OperationMapper operations,
      AccountMapper accounts,
      PersonMapper people,
      PersonSnapshots snapshots,
      Ledger ledger) {
    this.operations = operations;
    this.accounts = accounts;
    this.people = people;
    this.snapshots = snapshots;
    this.ledger = ledger;
  }

  /**
   * What trying these again comes to; locks their lanes. What a worker has in hand, and passcodes,
   * which are issued anew instead, are left out.
   *
   * @param chosen identities of operations
   */
  Again prepare(Collection<Long> chosen, Collection<Long> lanes) {
    var inHand =
        operations.leased(lanes).stream()
            .filter(OperationMapper.Leased::inHand)
            .map(OperationMapper.Leased::accountId)
            .collect(Collectors.toSet());
    var openOf = new HashMap<Long, List<OperationRow>>();
    operations
        .open(lanes)
        .forEach(row -> openOf.computeIfAbsent(row.accountId(), id -> new ArrayList<>()).add(row));
    var again = new ArrayList<OperationRow>();
    var after = new HashMap<Long, Account>();
    for (var account : snapshots.accounts(accounts.lock(lanes), Set.of())) {
      var open = openOf.getOrDefault(account.id(), List.of());
      var old = old(open, new HashSet<>(chosen), inHand.contains(account.id()));
      if (!old.isEmpty()) {
        again.addAll(old);
        after.put(account.id(), without(account, open, old));
      }
    }
    return new Again(again, after);
  }

  private static List<OperationRow> old(List<OperationRow> open, Set<Long> chosen, boolean inHand) {
    var old = new ArrayList<OperationRow>();
    var anew = false;
    for (var row : open) {
      var busy = inHand && row.state().equals("waiting");
      var asked = chosen.contains(row.id()) && !row.kind().equals("set-password");
      if (!busy && (asked || anew)) {
        old.add(row);
        anew |= row.opensLane();
      }
    }
    return old;
  }

  /** The account as it will be once what is left of its queue is done. */
  private static Account without(Account account, List<OperationRow> open, List<OperationRow> old) {
    var planned = account;
    var aspects = new HashSet<String>();
    for (var row : old) {
      var aspect = command(row).aspect();
      if (aspects.add(aspect)) {
        planned = planned.asSeen(aspect);
      }
    }
    for (var row : open) {
      var command = command(row);
      if (!old.contains(row)
          && (aspects.contains(command.aspect()) || aspects.contains(ProvisioningCommand.WHOLE))) {
        planned = planned.after(command);
      }
    }
    return planned;
  }

  private static ProvisioningCommand command(OperationRow row) {
    return CommandJson.read(row.kind(), row.payload());
  }

  /** Supersedes what is tried again, and makes its people due; inside a transaction. */
  void keep(Again again, Actor actor, Instant now) {
    if (again.operations().isEmpty()) {
      return;
    }
    var asked = new Transition.AskedAgain(now, actor.login());
    var results = new ArrayList<OperationMapper.Result>();
    var entries = new ArrayList<LedgerEntry>();
    for (var row : again.operations()) {
      var state = OperationStates.of(row).after(asked, RetryPolicy.USUAL);
      results.add(ResultBatch.row(row.id(), state, null));
      entries.add(
          new LedgerEntry(
              now,
              actor.login(),
              "operation:" + row.id(),
              "operation:" + row.id(),
              "operation-retried",
              Map.of("state", row.state(), "reason", row.reason()),
              Map.of("state", state.word())));
    }
    operations.record(JSON.writeValueAsString(results));
    var ids = again.accounts().keySet();
    PlannedAccounts.keep(accounts, again.accounts());
    operations.look(ids);
    people.dueFor(again.people(), now, "retry:" + actor.login());
    ledger.append(entries);
  }
}
