/** Reconciles and drift over HTTP. */
@org.jspecify.annotations.NullMarked
package glenmoor.server.reconcile;
