package glenmoor.core.jobs;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

public record Job(
    Long id,
    String what,
    String state,
    Integer done,
    Integer total,
    String sentence,
    String result,
    Instant startedAt,
    @Nullable Instant endedAt,
    String owner) {}
