/** The running service as people and programs meet it. */
@org.jspecify.annotations.NullMarked
package glenmoor.acceptance;
