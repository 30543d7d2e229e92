package glenmoor.core.playbooks;

import java.time.Instant;
import java.time.LocalDate;
import org.jspecify.annotations.Nullable;

/**
 * A run as it is shown.
 *
 * @param state open, held, stopped, done or ended
 * @param step the number of the next step, from 0
 * @param reason why it is held, stopped or ended
 */
public record RunView(
    Long id,
    String playbook,
    String name,
    String beganOn,
    String worker,
    String person,
    LocalDate day,
    String state,
    Integer step,
    Integer steps,
    @Nullable Instant dueAt,
    Integer tries,
    String reason,
    Instant beganAt,
    String beganBy,
    @Nullable Instant endedAt,
    Integer revision) {}
