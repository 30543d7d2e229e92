/** Rows of accounts, holdings, operations and lanes. */
@org.jspecify.annotations.NullMarked
package glenmoor.store.provisioning;
