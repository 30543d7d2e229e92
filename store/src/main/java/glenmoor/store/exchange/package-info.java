/** Files exchanged with applications, as they are kept. */
@org.jspecify.annotations.NullMarked
package glenmoor.store.exchange;
