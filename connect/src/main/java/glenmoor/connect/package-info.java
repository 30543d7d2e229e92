/** The outside: connectors to applications, and files from sources. */
@org.jspecify.annotations.NullMarked
package glenmoor.connect;
