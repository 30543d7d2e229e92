/**
 * Asking for access and agreeing to it: routes, offers, and what becomes of a line of a request.
 * Nothing here knows where any of it is kept.
 */
@org.jspecify.annotations.NullMarked
package glenmoor.core.requests;
