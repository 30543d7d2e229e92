/** What one ledger entry says. */
@org.jspecify.annotations.NullMarked
package glenmoor.core.ledger;
