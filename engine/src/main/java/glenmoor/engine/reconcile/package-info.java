/**
 * Comparing applications with what is expected of them, and what people and rules do about drift.
 */
@org.jspecify.annotations.NullMarked
package glenmoor.engine.reconcile;
