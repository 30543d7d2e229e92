/** Which installation this is, and whether it acts: a copy plans and shows, and sends nothing. */
@org.jspecify.annotations.NullMarked
package glenmoor.engine.installation;
