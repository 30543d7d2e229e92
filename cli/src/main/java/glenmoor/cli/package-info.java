/** The command line: talks to the REST API only. */
@org.jspecify.annotations.NullMarked
package glenmoor.cli;
