/** Entitlements, packages, birthrights and grants, and the desired access they add up to. */
@org.jspecify.annotations.NullMarked
package glenmoor.core.access;
