package glenmoor.core.reconcile;

import java.time.Instant;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * A difference as it is shown.
 *
 * @param state open or settled
 * @param response what its application's definition says is done about such a difference
 * @param worker the worker number of whose account it is; null for nobody's
 * @param nativeId the application's identity of an account that is nobody's
 * @param outcome how it was settled: repair-ordered, adopted, accepted, declared, removed, or gone
 *     where a later comparison does not show it any more; empty while it is open
 */
public record DriftView(
    long id,
    String application,
    DriftKind kind,
    String state,
    Response response,
    @Nullable String worker,
    @Nullable String person,
    String accountName,
    String nativeId,
    String aspect,
    Map<String, String> expected,
    Map<String, String> found,
    Instant firstSeenAt,
    Instant lastSeenAt,
    String outcome,
    @Nullable Instant settledAt,
    String settledBy,
    String reason) {}
