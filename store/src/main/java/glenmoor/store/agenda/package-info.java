/** Time as it is kept: the movable clock, and blocks of identities. */
@org.jspecify.annotations.NullMarked
package glenmoor.store.agenda;
