/** Rows of grants. */
@org.jspecify.annotations.NullMarked
package glenmoor.store.access;
