/** Files that sources deliver. */
@org.jspecify.annotations.NullMarked
package glenmoor.connect.lifecycle;
