/** The clock, the transactions, and what falls due. */
@org.jspecify.annotations.NullMarked
package glenmoor.engine.agenda;
