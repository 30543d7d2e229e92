/** Long work and what recurs, as they are shown. */
@org.jspecify.annotations.NullMarked
package glenmoor.core.jobs;
