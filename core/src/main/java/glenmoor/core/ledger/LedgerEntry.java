package glenmoor.core.ledger;

import java.time.Instant;
import java.util.Map;

/**
 * One thing that happened, as the ledger keeps it.
 *
 * @param actor who did it: a sign-in name, {@code clock} or {@code connector:directory}
 * @param cause what led to it, such as {@code feed:12}, or empty
 * @param subject what it happened to, such as {@code person:W-01482}
 * @param what a word for the happening, such as {@code grant-began}
 * @param before and {@code after}: plain maps, lists, strings, numbers and booleans
 */
public record LedgerEntry(
    Instant at,
    String actor,
    String cause,
    String subject,
    String what,
    Map<String, Object> before,
    Map<String, Object> after) {}
