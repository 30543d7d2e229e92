/** Rows that tell how far long work has come. */
@org.jspecify.annotations.NullMarked
package glenmoor.store.jobs;
