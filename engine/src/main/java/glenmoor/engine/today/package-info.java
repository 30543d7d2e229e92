/** The first page: what needs somebody, what moved, what is due; and finding things by name. */
@org.jspecify.annotations.NullMarked
package glenmoor.engine.today;
