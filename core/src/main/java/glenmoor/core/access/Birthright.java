package glenmoor.core.access;

import glenmoor.core.conditions.Expressions.Condition;
import org.jspecify.annotations.NullMarked;

/**
 * A rule that gives a package to everyone whose facts meet a condition.
 *
 * @param graceDays how long the package is kept after the condition stops to hold
 */
@NullMarked
public record Birthright(String key, String packageKey, Condition where, int graceDays) {}
