/** Conflicts and what becomes of them, over HTTP. */
@org.jspecify.annotations.NullMarked
package glenmoor.server.conflicts;
