/** Rows of what partners ask for by a link, and of people who do not count yet. */
@org.jspecify.annotations.NullMarked
package glenmoor.store.partners;
