/** Changes that wait for somebody else to release them. */
@org.jspecify.annotations.NullMarked
package glenmoor.engine.brakes;
