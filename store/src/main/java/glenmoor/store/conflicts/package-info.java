/** Rows of exemptions from conflict rules. */
@org.jspecify.annotations.NullMarked
package glenmoor.store.conflicts;
