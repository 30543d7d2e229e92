package glenmoor.core.playbooks;

import org.jspecify.annotations.Nullable;

/**
 * Which runs are asked for.
 *
 * @param state one of the states, or {@code unfinished}; null for all
 * @param before only runs with a smaller identity
 */
public record RunSearch(
    @Nullable String playbook,
    @Nullable Long person,
    @Nullable String state,
    Long before,
    Integer limit) {}
