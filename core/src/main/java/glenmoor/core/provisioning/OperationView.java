package glenmoor.core.provisioning;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/** An operation with names, for people to read. */
public record OperationView(
    Long id,
    String application,
    String accountName,
    String workerNumber,
    String personName,
    @Nullable Long eventId,
    String cause,
    Integer sequence,
    String kind,
    String payload,
    String state,
    Integer attempts,
    Instant notBefore,
    String reason,
    Instant createdAt,
    @Nullable Instant sentAt,
    @Nullable Instant settledAt,
    String settledBy,
    Long supersededBy) {}
