/** Asking for access, deciding on it, and what is given by it. */
@org.jspecify.annotations.NullMarked
package glenmoor.engine.requests;
