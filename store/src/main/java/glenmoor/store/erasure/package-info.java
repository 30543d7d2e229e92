/** Where what is kept of people stands, and taking it out. */
@org.jspecify.annotations.NullMarked
package glenmoor.store.erasure;
