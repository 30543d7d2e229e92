/** Rows of messages: letters, and what is told over channels. */
@org.jspecify.annotations.NullMarked
package glenmoor.store.letters;
