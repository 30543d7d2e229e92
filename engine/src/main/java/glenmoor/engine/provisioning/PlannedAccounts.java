package glenmoor.engine.provisioning;

import glenmoor.core.ledger.CanonicalJson;
import glenmoor.core.provisioning.Account;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.AccountMapper.AccountRow;
import glenmoor.store.provisioning.AccountMapper.HoldingRow;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.Map;
import java.util.Objects;
import java.util.TreeSet;

/** Keeps accounts as they are planned anew: planning starts from there, and finds the rest. */
final class PlannedAccounts {
  private PlannedAccounts() {}

  /** Writes them, by their identities, inside a transaction that has locked them. */
  static void keep(AccountMapper accounts, Map<Long, Account> planned) {
    var ids = planned.keySet();
    accounts.update(
        accounts.lock(ids).stream().map(row -> row(row, of(planned, row.id()))).toList());
    var known = new HashSet<String>();
    var holdings = new ArrayList<HoldingRow>();
    for (var row : accounts.holdings(ids)) {
      known.add(row.accountId() + " " + row.entitlement());
      holdings.add(
          new HoldingRow(
              row.accountId(),
              row.entitlement(),
              of(planned, row.accountId()).entitlements().contains(row.entitlement()),
              row.observed(),
              row.observedSince()));
    }
    planned.forEach((id, account) -> {
      var keys = new TreeSet<>(account.entitlements());
      keys.addAll(account.seen().entitlements());
      for (var key : keys) {
        if (!known.contains(id + " " + key)) {
          var desired = account.entitlements().contains(key);
          holdings.add(new HoldingRow(id, key, desired, false, null));
        }
      }
    });
    if (!holdings.isEmpty()) {
      accounts.desire(holdings);
    }
  }

  private static Account of(Map<Long, Account> planned, long id) {
    return Objects.requireNonNull(planned.get(id));
  }

  private static AccountRow row(AccountRow row, Account account) {
    return new AccountRow(
        row.id(),
        row.personId(),
        row.application(),
        row.baseName(),
        row.number(),
        account.name().isEmpty() ? row.name() : account.name(),
        account.container(),
        CanonicalJson.write(account.attributes()),
        account.state().word(),
        row.seenState(),
        row.seenName(),
        row.seenContainer(),
        row.seenAttributes(),
        row.nativeId(),
        account.unneededSince(),
        row.nextSequence());
  }
}
