/** Stories: one a file, told in order to one demo that was started for them. */
@org.jspecify.annotations.NullMarked
package glenmoor.acceptance;
