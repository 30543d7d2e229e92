/** Files exchanged with applications, at the command line. */
@org.jspecify.annotations.NullMarked
package glenmoor.cli.exchange;
