package glenmoor.core.ledger;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * Which entries a list asks for; newest first.
 *
 * @param subjects about any of these, such as {@code person:W-01007}; null for all
 */
public record LedgerSearch(
    @Nullable List<String> subjects,
    @Nullable String actor,
    @Nullable String what,
    @Nullable Instant beforeAt,
    @Nullable Long beforeId,
    int limit) {}
