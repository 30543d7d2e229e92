package glenmoor.core.ledger;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/** Which entries a list asks for; newest first. */
public record LedgerSearch(
    @Nullable String subject,
    @Nullable String actor,
    @Nullable String what,
    @Nullable Instant beforeAt,
    @Nullable Long beforeId,
    int limit) {}
