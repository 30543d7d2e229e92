/** Rows of definitions as they were loaded. */
@org.jspecify.annotations.NullMarked
package glenmoor.store.definitions;
