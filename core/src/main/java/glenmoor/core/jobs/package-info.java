/** Long work and what recurs, as they are shown, and how long to wait before another try. */
@org.jspecify.annotations.NullMarked
package glenmoor.core.jobs;
