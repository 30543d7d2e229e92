package glenmoor.engine.reconcile;

import glenmoor.core.applications.AccountState;
import glenmoor.core.provisioning.Account;
import glenmoor.core.reconcile.FoundAccount;
import glenmoor.engine.provisioning.CommandJson;
import glenmoor.store.reconcile.FoundMapper;
import glenmoor.store.reconcile.FoundMapper.FoundRow;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;

/** What a comparison's application listed, as core knows it. */
final class FoundAccounts {
  private final FoundMapper mapper;

  FoundAccounts(FoundMapper mapper) {
    this.mapper = mapper;
  }

  /** What was found of these accounts, by their identities; what was listed twice counts once. */
  Map<Long, FoundAccount> of(long reconcile, Collection<Long> accounts) {
    if (accounts.isEmpty()) {
      return Map.of();
    }
    var rows = new LinkedHashMap<Long, FoundRow>();
    mapper.of(reconcile, accounts).forEach(row -> rows.put(row.accountId(), row));
    var byReference = held(reconcile, rows.values());
    var found = new HashMap<Long, FoundAccount>();
    rows.forEach((id, row) -> found.put(id, found(row, byReference)));
    return found;
  }

  /** The same for rows, in their order. */
  List<FoundAccount> of(long reconcile, List<FoundRow> rows) {
    var byReference = held(reconcile, rows);
    return rows.stream().map(row -> found(row, byReference)).toList();
  }

  private Map<String, TreeSet<String>> held(long reconcile, Collection<FoundRow> rows) {
    var byReference = new HashMap<String, TreeSet<String>>();
    if (!rows.isEmpty()) {
      mapper
          .holdings(reconcile, rows.stream().map(FoundRow::reference).toList())
          .forEach(each ->
              byReference
                  .computeIfAbsent(each.reference(), key -> new TreeSet<>())
                  .add(each.entitlement()));
    }
    return byReference;
  }

  private static FoundAccount found(FoundRow row, Map<String, TreeSet<String>> held) {
    return new FoundAccount(
        row.nativeId(),
        row.name(),
        row.container(),
        row.worker(),
        row.enabled(),
        CommandJson.attributesOf(row.attributes()),
        held.getOrDefault(row.reference(), new TreeSet<>()));
  }

  /** What was seen of an account. */
  static Account.Seen seen(FoundAccount found) {
    return new Account.Seen(
        found.enabled() ? AccountState.ENABLED : AccountState.DISABLED,
        found.name(),
        found.container(),
        found.attributes(),
        found.entitlements());
  }
}
