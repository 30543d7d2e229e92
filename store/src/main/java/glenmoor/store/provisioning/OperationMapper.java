package glenmoor.store.provisioning;

import glenmoor.store.agenda.SqlTime;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code operation} and {@code lane}: the outbox. */
public interface OperationMapper {
  record OperationRow(
      Long id,
      Long accountId,
      Long personId,
      String application,
      @Nullable Long eventId,
      String cause,
      Integer sequence,
      String kind,
      Boolean opensLane,
      String payload,
      String state,
      Integer attempts,
      Instant notBefore,
      String reason,
      Instant createdAt,
      @Nullable Instant sentAt,
      @Nullable Instant settledAt,
      String settledBy) {}

  /** An operation with what a worker has to know of its account. */
  record Taken(
      Long id,
      Long accountId,
      String application,
      Integer sequence,
      String kind,
      String payload,
      Integer attempts,
      String reason,
      @Nullable Instant sentAt,
      String cause,
      String workerNumber,
      String accountName,
      String container,
      String nativeId) {}

  /** An operation with names, for people to read. */
  record OperationView(
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
      String settledBy) {}

  /** Which operations a list asks for; newest first. */
  record OperationSearch(
      @Nullable String state,
      @Nullable String application,
      @Nullable String worker,
      @Nullable Long event,
      @Nullable Long before,
      int limit) {}

  /** How one operation stands after a try or a decision; times as {@link SqlTime} writes them. */
  record Result(
      Long id,
      String state,
      Integer attempts,
      String notBefore,
      String reason,
      @Nullable String sentAt,
      @Nullable String settledAt,
      String settledBy) {}

  record LaneRow(Long accountId, String application, Instant dueAt) {}

  /** Makes lanes due, at the latest at the given moments. */
  void due(@Param("lanes") List<LaneRow> lanes);

  List<Long> takeableLanes(
      @Param("application") String application,
      @Param("now") Instant now,
      @Param("leaseNow") Instant leaseNow,
      @Param("limit") int limit);

  void lease(
      @Param("accounts") Collection<Long> accounts,
      @Param("by") String by,
      @Param("until") Instant until);

  List<Taken> waiting(@Param("accounts") Collection<Long> accounts);

  /** Writes how operations stand now, all in one statement: a JSON array of {@link Result}. */
  void record(@Param("results") String results);

  /** Gives lanes back; each is due again when its first waiting operation is. */
  void release(@Param("accounts") Collection<Long> accounts, @Param("by") String by);

  @Nullable OperationRow lock(@Param("id") long id);

  List<OperationView> search(OperationSearch search);

  @Nullable OperationView view(@Param("id") long id);

  /** Open operations that could be tried at this moment. */
  int ready(@Param("now") Instant now);

  List<Long> faults(@Param("application") @Nullable String application, @Param("limit") int limit);
}
