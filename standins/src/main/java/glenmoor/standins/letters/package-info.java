/** The simulated outside that Glenmoor tells things: a post office, a ticket desk, a chat. */
package glenmoor.standins.letters;
