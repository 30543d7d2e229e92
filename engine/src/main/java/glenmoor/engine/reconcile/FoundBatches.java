package glenmoor.engine.reconcile;

import glenmoor.core.usage.Used;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Bulk;
import glenmoor.store.reconcile.FoundMapper;
import glenmoor.store.usage.UsageMapper;
import java.util.List;
import tools.jackson.databind.json.JsonMapper;

/** Writes what applications listed, each batch in a transaction of its own. */
final class FoundBatches {
  private static final JsonMapper JSON = JsonMapper.shared();

  private final FoundMapper mapper;
  private final UsageMapper usage;
  private final Bulk bulk;
  private final Transactions transactions;
  private final Clock clock;

  FoundBatches(
      FoundMapper mapper, UsageMapper usage, Bulk bulk, Transactions transactions, Clock clock) {
    this.mapper = mapper;
    this.usage = usage;
    this.bulk = bulk;
    this.transactions = transactions;
    this.clock = clock;
  }

  /**
   * @param uses when accounts that need not be kept were last used
   */
  void keep(
      List<FoundMapper.Line> lines, List<FoundMapper.Held> held, List<UsageMapper.Listed> uses) {
    transactions.run(() -> {
      bulk.insert("found_account", lines);
      bulk.insert("found_holding", held);
      if (!uses.isEmpty()) {
        var now = clock.instant();
        usage.keepListed(JSON.writeValueAsString(uses), now, now.plus(Used.AHEAD));
      }
    });
  }

  /** Keeps accounts with what they should be, since they are just that. */
  void keepAsExpected(long reconcile, List<FoundMapper.AsExpected> accounts) {
    transactions.run(() -> mapper.keepAsExpected(reconcile, JSON.writeValueAsString(accounts)));
  }
}
