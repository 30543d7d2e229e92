package glenmoor.core.provisioning;

import org.jspecify.annotations.Nullable;

/** Which operations shall be tried again; {@code reason} is a part of theirs. */
public record RetrySearch(
    @Nullable String application,
    @Nullable String kind,
    @Nullable String reason,
    long after,
    int limit) {}
