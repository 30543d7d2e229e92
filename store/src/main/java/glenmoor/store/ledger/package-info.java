/** Rows of the ledger. */
@org.jspecify.annotations.NullMarked
package glenmoor.store.ledger;
