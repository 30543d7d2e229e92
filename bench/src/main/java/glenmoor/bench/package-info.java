/**
 * Whole-run benchmarks: each prints both times and the ratio to a named baseline of the same run.
 */
@org.jspecify.annotations.NullMarked
package glenmoor.bench;
