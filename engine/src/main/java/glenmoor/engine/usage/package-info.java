/** When access was used: told by files and calls, and what was not for long. */
@org.jspecify.annotations.NullMarked
package glenmoor.engine.usage;
