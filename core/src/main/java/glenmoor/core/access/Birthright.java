package glenmoor.core.access;

import glenmoor.core.conditions.Expressions.Condition;

/**
 * A rule that gives a package to everyone whose facts meet a condition.
 *
 * @param graceDays how long the package is kept after the condition stops to hold
 */
public record Birthright(String key, String packageKey, Condition where, int graceDays) {}
