package glenmoor.engine.reconcile;

import glenmoor.core.reconcile.Expectations;
import glenmoor.core.usage.Used;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Bulk;
import glenmoor.store.Parts;
import glenmoor.store.reconcile.FoundMapper;
import glenmoor.store.usage.UsageMapper;
import jakarta.inject.Named;
import java.util.ArrayList;
import java.util.List;
import tools.jackson.databind.json.JsonMapper;

/**
 * What applications listed, as it is kept while it is compared: written in batches, each in a
 * transaction of its own, joined to the accounts that are known, and forgotten in parts.
 */
@Named
final class FoundLines {
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final int AT_ONCE = 1_000;

  private final FoundMapper mapper;
  private final UsageMapper usage;
  private final Bulk bulk;
  private final Transactions transactions;
  private final Clock clock;

  FoundLines(
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

  /**
   * Finds whose the kept accounts are, and when they were last used. One that was found by its
   * identity has no second.
   */
  void join(long reconcile, String application, Expectations expectations) {
    transactions.run(() -> {
      mapper.joinByNativeId(reconcile, application);
      mapper.joinByWorker(reconcile, application);
      var seconds = new ArrayList<Integer>();
      mapper.joinedByWorker(
          reconcile,
          each -> {
            var joined = each.getResultObject();
            if (expectations.isSeen(joined.accountId())) {
              seconds.add(joined.line());
            } else {
              expectations.seen(joined.accountId());
            }
          });
      Parts.each(seconds, AT_ONCE, lines -> mapper.release(reconcile, lines));
      var now = clock.instant();
      usage.keepFound(reconcile, now, now.plus(Used.AHEAD));
    });
  }

  /** Deletes what was listed for a comparison, in parts. */
  void forget(long reconcile) {
    int dropped;
    do {
      dropped = transactions.run(() -> mapper.dropLines(reconcile) + mapper.dropHeld(reconcile));
    } while (dropped > 0);
  }
}
