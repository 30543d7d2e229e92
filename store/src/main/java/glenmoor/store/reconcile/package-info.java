/** Rows of what applications were found to have, and of drift. */
@org.jspecify.annotations.NullMarked
package glenmoor.store.reconcile;
