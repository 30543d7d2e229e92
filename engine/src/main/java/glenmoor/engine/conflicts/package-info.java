/** What one person must not hold together: found before it is given, and allowed for a while. */
@org.jspecify.annotations.NullMarked
package glenmoor.engine.conflicts;
