/** Sign-ins and tokens. */
@org.jspecify.annotations.NullMarked
package glenmoor.store.identity;
