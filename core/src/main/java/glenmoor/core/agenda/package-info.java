/** What is due when. */
@org.jspecify.annotations.NullMarked
package glenmoor.core.agenda;
