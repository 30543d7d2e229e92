/** Use cases: load, let core decide, store, queue. Transactions live here and only here. */
@org.jspecify.annotations.NullMarked
package glenmoor.engine;
