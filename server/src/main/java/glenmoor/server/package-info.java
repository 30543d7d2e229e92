/** The service: its doors, its sign-in, and how its parts are put together. */
@org.jspecify.annotations.NullMarked
package glenmoor.server;
