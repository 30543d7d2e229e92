/** Partner organisations, and their people asking for access by a link, over HTTP. */
@org.jspecify.annotations.NullMarked
package glenmoor.server.partners;
