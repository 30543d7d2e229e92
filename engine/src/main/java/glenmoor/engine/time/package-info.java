/** What time it is, and transactions whose row times follow it. */
@org.jspecify.annotations.NullMarked
package glenmoor.engine.time;
