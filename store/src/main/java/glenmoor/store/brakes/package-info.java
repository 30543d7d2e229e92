/** Rows of changes that wait to be released. */
@org.jspecify.annotations.NullMarked
package glenmoor.store.brakes;
