package glenmoor.core.lifecycle;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/** Which events a list asks for; newest first. */
public record EventSearch(
    @Nullable String kind,
    @Nullable Long feed,
    @Nullable String worker,
    @Nullable Instant since,
    @Nullable Instant until,
    @Nullable Instant beforeAt,
    @Nullable Long beforeId,
    int limit) {}
