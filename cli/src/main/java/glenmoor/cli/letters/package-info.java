/** Commands of this capability. */
@org.jspecify.annotations.NullMarked
package glenmoor.cli.letters;
