/** Rows of feeds, their rejects, and events. */
@org.jspecify.annotations.NullMarked
package glenmoor.store.lifecycle;
