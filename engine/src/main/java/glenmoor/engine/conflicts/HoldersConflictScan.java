package glenmoor.engine.conflicts;

import glenmoor.core.conflicts.ConflictRule;
import glenmoor.core.conflicts.Holders;
import glenmoor.store.Bulk;
import glenmoor.store.conflicts.ConflictMapper;
import glenmoor.store.conflicts.ConflictMapper.FoundRow;
import jakarta.inject.Named;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.TreeSet;

/**
 * Reads once who holds what any rule names, as identities alone, and answers all rules from these
 * sets. The memory it takes is a few bytes a holding.
 */
@Named
final class HoldersConflictScan implements ConflictScan {
  private static final int AT_ONCE = 20_000;

  private final ConflictMapper conflicts;
  private final Bulk bulk;

  HoldersConflictScan(ConflictMapper conflicts, Bulk bulk) {
    this.conflicts = conflicts;
    this.bulk = bulk;
  }

  @Override
  public void find(Collection<ConflictRule> rules) {
    conflicts.clearFound();
    var named = new TreeSet<String>();
    rules.forEach(rule -> named.addAll(rule.entitlements()));
    if (named.isEmpty()) {
      return;
    }
    var holders = new Holders();
    conflicts.holders(
        named,
        row -> {
          var holder = row.getResultObject();
          holders.add(holder.entitlement(), holder.personId());
        });
    var found = new ArrayList<FoundRow>();
    for (var rule : rules) {
      Arrays.stream(holders.breaking(rule))
          .forEach(person -> found.add(new FoundRow(rule.key(), person)));
      if (found.size() >= AT_ONCE) {
        bulk.insert("conflict_found", found);
        found.clear();
      }
    }
    bulk.insert("conflict_found", found);
  }
}
