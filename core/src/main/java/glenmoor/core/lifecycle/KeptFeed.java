package glenmoor.core.lifecycle;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/** One delivery; {@code counts} is JSON: events by kind; {@code workId} is who reads it. */
public record KeptFeed(
    Long id,
    String source,
    String fileName,
    String state,
    String sentence,
    Integer rowsRead,
    Integer rowsRejected,
    String counts,
    Instant startedAt,
    @Nullable Instant endedAt,
    String loadedBy,
    Long workId,
    Long heldChange) {}
