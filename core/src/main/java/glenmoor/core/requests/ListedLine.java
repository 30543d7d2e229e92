package glenmoor.core.requests;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/** A line of a request in a list. */
public record ListedLine(
    long id,
    long requestId,
    String kind,
    String offer,
    String packageKey,
    String worker,
    String person,
    String askedBy,
    String askerName,
    Instant askedAt,
    String reason,
    String answers,
    String selected,
    String state,
    @Nullable Instant endedAt,
    String endReason,
    @Nullable Instant dueAt) {}
