/** Tokens and sign-ins, as they are shown. */
@org.jspecify.annotations.NullMarked
package glenmoor.core.identity;
