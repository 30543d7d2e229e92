/** Rows of when access was used. */
@org.jspecify.annotations.NullMarked
package glenmoor.store.usage;
