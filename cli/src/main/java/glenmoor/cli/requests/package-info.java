/** Commands about asking for access and deciding on it. */
@org.jspecify.annotations.NullMarked
package glenmoor.cli.requests;
