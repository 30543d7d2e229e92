package glenmoor.engine.requests;

import glenmoor.core.conflicts.ConflictRule;
import java.util.List;

/**
 * A conflict that a line would cause.
 *
 * @param needsTerms whether whoever sees this decides on it now, and on what terms
 */
public record Conflicting(
    String rule,
    String name,
    String risk,
    List<String> controls,
    int longestDays,
    boolean needsTerms) {
  static Conflicting of(ConflictRule rule, boolean needsTerms) {
    return new Conflicting(
        rule.key(), rule.name(), rule.risk(), rule.controls(), rule.longestDays(), needsTerms);
  }
}
