package glenmoor.core.provisioning;

import java.time.Instant;

/** An accepted deviation with names, for people to read. */
public record DeviationView(
    Long id,
    Long accountId,
    Long personId,
    String workerNumber,
    String personName,
    String application,
    String accountName,
    String aspect,
    Long operationId,
    String acceptedBy,
    String reason,
    Instant acceptedAt,
    Instant untilAt) {}
