package glenmoor.core.playbooks;

import java.time.Instant;
import org.jspecify.annotations.Nullable;

/**
 * What a run asks somebody.
 *
 * @param whom as the playbook says it
 * @param state open, yes, no, lapsed, or dropped where the run was over before
 */
public record AskView(
    Long id,
    Long run,
    Integer step,
    String playbook,
    String worker,
    String person,
    String question,
    String whom,
    Instant askedAt,
    Instant lapsesAt,
    String state,
    String answeredBy,
    @Nullable Instant answeredAt,
    String reason) {}
