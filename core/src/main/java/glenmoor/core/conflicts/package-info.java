/**
 * Separation of duties: what one person must not hold together, and who may allow it for a while.
 */
@org.jspecify.annotations.NullMarked
package glenmoor.core.conflicts;
