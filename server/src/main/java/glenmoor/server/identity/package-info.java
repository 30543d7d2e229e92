/** Signing in and out, and tokens for programs. */
@org.jspecify.annotations.NullMarked
package glenmoor.server.identity;
