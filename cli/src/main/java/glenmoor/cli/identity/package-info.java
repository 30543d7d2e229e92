/** Sign-ins and tokens on the command line. */
@org.jspecify.annotations.NullMarked
package glenmoor.cli.identity;
