/** Asking for access and deciding on it, over HTTP. */
@org.jspecify.annotations.NullMarked
package glenmoor.server.requests;
