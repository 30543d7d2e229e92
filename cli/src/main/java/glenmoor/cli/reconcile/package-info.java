/** Reconciles and drift at the command line. */
@org.jspecify.annotations.NullMarked
package glenmoor.cli.reconcile;
