/** When access was used, and what is idle. */
@org.jspecify.annotations.NullMarked
package glenmoor.core.usage;
