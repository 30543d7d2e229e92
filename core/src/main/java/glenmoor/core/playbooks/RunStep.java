package glenmoor.core.playbooks;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * A step of a run as it is kept.
 *
 * @param said JSON: the step as its playbook said it when the run began
 * @param what what it did, or what it waits for
 * @param reference what it began elsewhere: an operation, a ticket; empty for nothing
 */
public record RunStep(
    Integer number,
    String said,
    String state,
    String what,
    @Nullable Instant settledAt,
    String settledBy,
    String reference) {}
