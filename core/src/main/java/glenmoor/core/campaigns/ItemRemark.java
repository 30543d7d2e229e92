package glenmoor.core.campaigns;

import java.time.Instant;

/**
 * What was said of an item, or done with it.
 *
 * @param what keep, revoke, undo, pass-on, comment, answer or hand
 */
public record ItemRemark(
    Long id, Long itemId, Instant at, String byLogin, String what, String text) {}
