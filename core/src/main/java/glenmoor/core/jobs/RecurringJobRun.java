package glenmoor.core.jobs;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/** A job with its last run; {@code pickedBy} is who is at it now. */
public record RecurringJobRun(
    String name,
    Instant nextAt,
    @Nullable String pickedBy,
    @Nullable Instant lastSuccess,
    @Nullable Instant lastFailure,
    int failures) {}
