/** Rows of applications' health. */
@org.jspecify.annotations.NullMarked
package glenmoor.store.applications;
