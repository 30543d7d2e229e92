/** What a change would do, counted. */
@org.jspecify.annotations.NullMarked
package glenmoor.core.forecast;
