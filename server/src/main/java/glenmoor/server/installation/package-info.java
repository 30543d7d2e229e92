/** Which installation this is, and releasing a quiet one. */
@org.jspecify.annotations.NullMarked
package glenmoor.server.installation;
