/** Rows of requests, their lines and stages, and of who is away. */
@org.jspecify.annotations.NullMarked
package glenmoor.store.requests;
