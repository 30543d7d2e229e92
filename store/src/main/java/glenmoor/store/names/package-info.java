/** Finding people by their names, among very many. */
@org.jspecify.annotations.NullMarked
package glenmoor.store.names;
