/** The simulated outside that Glenmoor tells things: a post office, a ticket desk, a chat. */
@org.jspecify.annotations.NullMarked
package glenmoor.standins.letters;
