/** Who may do what, who can sign in, and what there is to see of a person. */
@org.jspecify.annotations.NullMarked
package glenmoor.engine.people;
