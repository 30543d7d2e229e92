/** The movable clock of a demo, and moments as SQL reads them. */
@org.jspecify.annotations.NullMarked
package glenmoor.store.time;
