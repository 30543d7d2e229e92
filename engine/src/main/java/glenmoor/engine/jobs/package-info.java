/** How far long work has come. */
@org.jspecify.annotations.NullMarked
package glenmoor.engine.jobs;
