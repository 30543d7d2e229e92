/** Which installation a service and its database are, and whether it may act. */
@org.jspecify.annotations.NullMarked
package glenmoor.core.installation;
