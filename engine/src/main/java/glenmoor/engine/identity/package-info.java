/** Who can sign in, and with what: passwords and tokens. */
@org.jspecify.annotations.NullMarked
package glenmoor.engine.identity;
