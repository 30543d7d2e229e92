/** Loading feeds, and the events they mean. */
@org.jspecify.annotations.NullMarked
package glenmoor.engine.lifecycle;
