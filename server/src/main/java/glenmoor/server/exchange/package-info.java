/** Files exchanged with applications, over HTTP. */
@org.jspecify.annotations.NullMarked
package glenmoor.server.exchange;
