/** Limits that make a change wait for somebody to release it. */
@org.jspecify.annotations.NullMarked
package glenmoor.core.brakes;
