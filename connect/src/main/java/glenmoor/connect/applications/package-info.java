/** Connectors: one kind of application each. */
@org.jspecify.annotations.NullMarked
package glenmoor.connect.applications;
