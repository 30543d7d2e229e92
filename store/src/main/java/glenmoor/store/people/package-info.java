/** Rows of people, sign-ins, duties and tokens. */
@org.jspecify.annotations.NullMarked
package glenmoor.store.people;
