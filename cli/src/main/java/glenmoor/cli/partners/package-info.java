/** Commands about partner organisations. */
@org.jspecify.annotations.NullMarked
package glenmoor.cli.partners;
