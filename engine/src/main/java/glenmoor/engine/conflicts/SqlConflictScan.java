package glenmoor.engine.conflicts;

import glenmoor.core.conflicts.ConflictRule;
import glenmoor.store.conflicts.ConflictMapper;
import jakarta.inject.Named;
import java.util.Collection;
import java.util.List;

/** Lets the database find them: one statement a rule, over the holdings of what the rule names. */
@Named
final class SqlConflictScan implements ConflictScan {
  private final ConflictMapper conflicts;

  SqlConflictScan(ConflictMapper conflicts) {
    this.conflicts = conflicts;
  }

  @Override
  public void find(Collection<ConflictRule> rules) {
    conflicts.clearFound();
    for (var rule : rules) {
      if (rule.sides().isEmpty()) {
        conflicts.findOf(rule.key(), List.copyOf(rule.of()), rule.most());
      } else {
        conflicts.findSides(
            rule.key(),
            List.copyOf(rule.entitlements()),
            rule.sides().stream().map(List::copyOf).toList());
      }
    }
  }
}
