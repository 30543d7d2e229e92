package glenmoor.server.identity;

/**
 * Somebody signed out: what is open for their session ends.
 *
 * @param session as it is kept, not what the browser brings
 */
public record SignedOut(String session) {}
