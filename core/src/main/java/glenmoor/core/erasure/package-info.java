/** Taking out of what is kept all that says who somebody was. */
@org.jspecify.annotations.NullMarked
package glenmoor.core.erasure;
