package glenmoor.engine.conflicts;

import glenmoor.core.conflicts.ConflictRule;
import java.util.Collection;

/**
 * Finds who breaks which rule, all people at once. Whatever does it notes what it finds in {@code
 * conflict_found}; nobody is looked at by themselves.
 */
interface ConflictScan {
  /** Finds all who break some rules, inside the caller's transaction. */
  void find(Collection<ConflictRule> rules);
}
