/** People, their typed facts, and the standing that follows from dates. */
@org.jspecify.annotations.NullMarked
package glenmoor.core.people;
