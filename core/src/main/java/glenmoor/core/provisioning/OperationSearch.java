package glenmoor.core.provisioning;

import org.jspecify.annotations.Nullable;

/** Which operations a list asks for; newest first. */
public record OperationSearch(
    @Nullable String state,
    @Nullable String kind,
    @Nullable String application,
    @Nullable String worker,
    @Nullable Long event,
    @Nullable Long before,
    int limit) {}
