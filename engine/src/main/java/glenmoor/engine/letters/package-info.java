/** Writes letters and other messages, and hands them to the outside. */
@org.jspecify.annotations.NullMarked
package glenmoor.engine.letters;
