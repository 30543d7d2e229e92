/** Applications that take their changes as files, and answer with a file of what they have. */
@org.jspecify.annotations.NullMarked
package glenmoor.core.exchange;
