/** Erasing who somebody was, once nobody needs to know any more. */
@org.jspecify.annotations.NullMarked
package glenmoor.engine.erasure;
