/** Sources, the checks on each row of a feed, and the events a difference means. */
@org.jspecify.annotations.NullMarked
package glenmoor.core.lifecycle;
