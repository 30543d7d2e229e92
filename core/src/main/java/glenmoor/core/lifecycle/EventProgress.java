package glenmoor.core.lifecycle;

import java.time.Instant;
import java.time.LocalDate;
import org.jspecify.annotations.Nullable;

/** An event with its person and the counts of its operations. */
public record EventProgress(
    Long id,
    String workerNumber,
    String personName,
    String facts,
    String kind,
    LocalDate effectiveOn,
    @Nullable Long feedId,
    String changes,
    Instant detectedAt,
    @Nullable Instant plannedAt,
    Integer operations,
    Integer sent,
    Integer confirmed,
    Integer faults,
    @Nullable Instant confirmedAt,
    @Nullable String waitingFor) {}
