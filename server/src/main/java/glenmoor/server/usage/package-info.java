/** When access was used, over HTTP. */
@org.jspecify.annotations.NullMarked
package glenmoor.server.usage;
