/** Duties on the command line. */
@org.jspecify.annotations.NullMarked
package glenmoor.cli.authorization;
