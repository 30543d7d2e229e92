/** The REST door of this capability. */
@org.jspecify.annotations.NullMarked
package glenmoor.server.jobs;
