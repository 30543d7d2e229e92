package glenmoor.core.ledger;

import java.time.Instant;

/** One entry; {@code entry} is its canonical JSON (RFC 8785). */
public record KeptEntry(
    Long id,
    Instant happenedAt,
    String actor,
    String cause,
    String subject,
    String what,
    String entry) {}
