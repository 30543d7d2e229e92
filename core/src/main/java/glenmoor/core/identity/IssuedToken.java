package glenmoor.core.identity;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * A token, without what would let somebody use it.
 *
 * @param key the beginning of its hash
 * @param permissions the words of those it carries, with commas; empty for all of its owner's
 */
public record IssuedToken(
    String key,
    String login,
    String note,
    String permissions,
    Instant createdAt,
    Instant expiresAt,
    @Nullable Instant revokedAt,
    String revokedBy) {}
