/** Appending to the record, and reading it. */
@org.jspecify.annotations.NullMarked
package glenmoor.engine.ledger;
