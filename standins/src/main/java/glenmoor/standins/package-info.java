/**
 * The simulated outside: small programs that behave, and misbehave when told, like the real ones.
 */
@org.jspecify.annotations.NullMarked
package glenmoor.standins;
