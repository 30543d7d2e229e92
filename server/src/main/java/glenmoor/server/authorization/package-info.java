/** Duties: who was given which. */
@org.jspecify.annotations.NullMarked
package glenmoor.server.authorization;
