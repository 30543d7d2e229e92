/**
 * Comparing an application with what Glenmoor expects of it, and what is done about a difference.
 */
@org.jspecify.annotations.NullMarked
package glenmoor.core.reconcile;
