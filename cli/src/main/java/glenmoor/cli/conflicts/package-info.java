/** Commands about conflicts. */
@org.jspecify.annotations.NullMarked
package glenmoor.cli.conflicts;
