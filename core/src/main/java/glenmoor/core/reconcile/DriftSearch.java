package glenmoor.core.reconcile;

import org.jspecify.annotations.Nullable;

/**
 * Which drift is looked for; null or empty leaves a side open.
 *
 * @param state open or settled
 * @param response what is done about it
 * @param before an identity: only older ones
 */
public record DriftSearch(
    @Nullable String application,
    @Nullable String kind,
    @Nullable String state,
    @Nullable String response,
    @Nullable String worker,
    long before,
    int limit) {}
