package glenmoor.store.provisioning;

import glenmoor.core.people.ValueCount;
import glenmoor.core.provisioning.DeviationView;
import glenmoor.core.provisioning.OperationSearch;
import glenmoor.core.provisioning.OperationView;
import glenmoor.core.provisioning.RetrySearch;
import glenmoor.store.time.SqlTime;
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
      String settledBy,
      Long supersededBy) {
    /**
     * One that nothing was done for yet, to be tried from now on.
     *
     * @param event what it follows from, if it was an event
     * @param sequence its place among those of the account
     * @param payload what is wanted, as JSON
     */
    public static OperationRow waiting(
        long id,
        long account,
        long person,
        String application,
        @Nullable Long event,
        String cause,
        int sequence,
        String kind,
        boolean opensLane,
        String payload,
        Instant now) {
      return new OperationRow(
          id,
          account,
          person,
          application,
          event,
          cause,
          sequence,
          kind,
          opensLane,
          payload,
          "waiting",
          0,
          now,
          "",
          now,
          null,
          null,
          "",
          0L);
    }
  }

  /** An operation with what a worker has to know of its account. */
  record Taken(
      Long id,
      Long accountId,
      Long personId,
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
      String seenName,
      String seenContainer,
      @Nullable String nativeId) {}

  /** How one operation stands after a try or a decision; times as {@link SqlTime} writes them. */
  record Result(
      Long id,
      String state,
      Integer attempts,
      String notBefore,
      String reason,
      @Nullable String sentAt,
      @Nullable String settledAt,
      String settledBy,
      long supersededBy,
      String mark) {
    /** The same with the mark of the password that was set. */
    public Result marked(String as) {
      return new Result(
          id, state, attempts, notBefore, reason, sentAt, settledAt, settledBy, supersededBy, as);
    }
  }

  /** The mark of the password that an operation set; null or empty where there is none. */
  @Nullable String mark(@Param("operation") long operation);

  record LaneRow(Long accountId, String application, Instant dueAt) {}

  /** Makes lanes due, at the latest at the given moments. */
  void due(@Param("lanes") List<LaneRow> lanes);

  /** The applications that have a lane due, in hand or not: one step in the index each. */
  List<String> applicationsDue(@Param("now") Instant now);

  /** Lanes that nobody has in hand, by the database's own time, locked. */
  List<Long> takeableLanes(
      @Param("application") String application,
      @Param("now") Instant now,
      @Param("limit") int limit);

  void lease(
      @Param("accounts") Collection<Long> accounts,
      @Param("by") String by,
      @Param("token") long token,
      @Param("seconds") long seconds);

  /** Keeps lanes in hand, as long as their tokens are still the ones they are leased under. */
  void renew(
      @Param("accounts") Collection<Long> accounts,
      @Param("tokens") Collection<Long> tokens,
      @Param("seconds") long seconds);

  /** A lane as it is leased; {@code inHand} by the database's own time. */
  record Leased(Long accountId, @Nullable Long token, Boolean inHand, @Nullable Long blockedBy) {}

  /** How lanes are leased, locked for this transaction. */
  List<Leased> leased(@Param("accounts") Collection<Long> accounts);

  /** A result that came: of a lane, under the lease with this token, and which operations'. */
  record Came(long account, long token, List<Long> operations) {}

  /** A lane that is still leased as it was, and one of its operations that still waits, or none. */
  record Current(Long accountId, Long token, @Nullable Long operationId) {}

  /**
   * What of the results that came still counts, locked for this transaction.
   *
   * @param came a JSON array of {@link Came}
   */
  List<Current> current(@Param("came") String came);

  /** What waits or is a fault in these lanes, in order, locked for this transaction. */
  List<OperationRow> open(@Param("accounts") Collection<Long> accounts);

  List<Taken> waiting(@Param("accounts") Collection<Long> accounts);

  /** Writes how operations stand now, all in one statement: a JSON array of {@link Result}. */
  void record(@Param("results") String results);

  /** Gives lanes back; each is due again when its first waiting operation is. */
  void release(
      @Param("accounts") Collection<Long> accounts, @Param("tokens") Collection<Long> tokens);

  /** Moves what waits in these lanes to this moment; the lanes have to be looked at then. */
  void beforeAll(@Param("accounts") Collection<Long> accounts, @Param("at") Instant at);

  /** Looks anew when lanes are due, and whether a create that failed holds them. */
  void look(@Param("accounts") Collection<Long> accounts);

  @Nullable OperationRow lock(@Param("id") long id);

  List<OperationView> search(
      @Param("search") OperationSearch search, @Param("within") @Nullable List<String> within);

  @Nullable OperationView view(@Param("id") long id);

  /** Open operations that could be tried at this moment, but in these applications. */
  int ready(@Param("now") Instant now, @Param("except") Collection<String> except);

  /** An operation that can be tried again, and its lane. */
  record Retriable(Long id, Long accountId) {}

  /** Faults, and what waits after a try, in order of identity. */
  List<Retriable> retriable(
      @Param("search") RetrySearch search, @Param("within") @Nullable List<String> within);

  /** An accepted deviation to keep. */
  record NewDeviation(
      long id,
      long accountId,
      long personId,
      String application,
      String aspect,
      long operationId,
      String acceptedBy,
      String reason,
      Instant acceptedAt,
      Instant untilAt) {}

  /** How many tasks are open; {@code within} null for all applications. */
  int countTasks(@Param("within") @Nullable Collection<String> within);

  void deviate(NewDeviation deviation);

  /** Open deviations of people. */
  List<DeviationView> deviationsOf(@Param("people") Collection<Long> people);

  /** Open deviations in an application, or in all. */
  List<DeviationView> deviationsIn(
      @Param("application") @Nullable String application,
      @Param("within") @Nullable List<String> within,
      @Param("after") @Nullable Long after,
      @Param("limit") int limit);

  void endDeviations(@Param("ids") Collection<Long> ids, @Param("now") Instant now);

  /**
   * How many groups of faults there are: of one application, for one reason; among the newest 50.
   */
  int countFaultsAlike(@Param("within") @Nullable Collection<String> within);

  /** How many operations gave up in each application, where any did. */
  List<ValueCount> countFaults();
}
