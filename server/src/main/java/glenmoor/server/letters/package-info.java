/** Letters and other messages over the API. */
@org.jspecify.annotations.NullMarked
package glenmoor.server.letters;
