/** Duties that were given. */
@org.jspecify.annotations.NullMarked
package glenmoor.store.authorization;
