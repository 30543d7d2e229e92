/** Who may do what to what: permissions, the duties that hold them, and how far they reach. */
@org.jspecify.annotations.NullMarked
package glenmoor.core.authorization;
