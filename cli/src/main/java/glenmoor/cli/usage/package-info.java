/** Commands about when access was used. */
@org.jspecify.annotations.NullMarked
package glenmoor.cli.usage;
