package glenmoor.store.reconcile;

import glenmoor.core.reconcile.FoundRight;
import glenmoor.core.reconcile.ReconcileRun;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.session.ResultHandler;
import org.jspecify.annotations.Nullable;

/** Rows of {@code reconcile} and of what an application listed. */
public interface FoundMapper {
  /** A line of {@code found_account} as it is written. */
  record Line(
      long reconcileId,
      int line,
      String reference,
      String nativeId,
      String name,
      String container,
      String worker,
      boolean enabled,
      String attributes,
      @Nullable Instant lastUsed) {}

  /** A line of {@code found_holding}. */
  record Held(long reconcileId, String reference, String entitlement) {}

  /** A found account; {@code accountId} is null for nobody's. */
  record FoundRow(
      Integer line,
      String reference,
      String nativeId,
      String name,
      String container,
      String worker,
      Boolean enabled,
      String attributes,
      @Nullable Long accountId) {}

  /** A line that was joined to an account by another thing than the application's identity. */
  record Joined(Integer line, Long accountId) {}

  /** An account whose content was found as it should be, and its reference in this comparison. */
  record AsExpected(long id, int line, String reference) {}

  void begin(ReconcileRun run);

  void again(@Param("id") long id, @Param("now") Instant now);

  void end(ReconcileRun run);

  @Nullable ReconcileRun ofWork(@Param("work") long work);

  @Nullable ReconcileRun byId(@Param("id") long id);

  /** The newest first; {@code within} null for all applications. */
  List<ReconcileRun> list(
      @Param("application") @Nullable String application,
      @Param("within") @Nullable Collection<String> within,
      @Param("before") long before,
      @Param("limit") int limit);

  /** Whether another comparison of the application goes on that was begun before. */
  boolean othersRun(@Param("application") String application, @Param("id") long id);

  /**
   * Comparisons of which there is still what was listed, though a later one has taken its place.
   */
  List<Long> replaced();

  /** Deletes some of what was listed; 0 if nothing is left. */
  int dropLines(@Param("id") long id);

  int dropHeld(@Param("id") long id);

  /** Joins what was listed to accounts by the application's identities. */
  int joinByNativeId(@Param("id") long id, @Param("application") String application);

  /**
   * Joins what is left by worker numbers, where only one carries it and its account is not there.
   */
  int joinByWorker(@Param("id") long id, @Param("application") String application);

  /** Gives what was joined by worker numbers. */
  void joinedByWorker(@Param("id") long id, ResultHandler<Joined> each);

  /** Lets lines be nobody's again. */
  void release(@Param("id") long id, @Param("lines") Collection<Integer> lines);

  /**
   * Keeps accounts as if they had been listed as they should be.
   *
   * @param accounts a JSON array of {@link AsExpected}
   */
  void keepAsExpected(@Param("id") long id, @Param("accounts") String accounts);

  /** Accounts of the application that should be there by what was seen before. */
  int countKnown(@Param("application") String application);

  /** Accounts among those kept that may differ, in order of their identities. */
  List<Long> differing(
      @Param("id") long id,
      @Param("withHoldings") boolean withHoldings,
      @Param("after") long after,
      @Param("limit") int limit);

  /** Which of these accounts have something under way, or had since a moment. */
  List<Long> busy(@Param("accounts") Collection<Long> accounts, @Param("since") Instant since);

  /** A side of an account, as commands name it. */
  record Side(Long accountId, String aspect) {}

  /** For which sides of these accounts something is under way, or was done since a moment. */
  List<Side> sidesUnderWay(
      @Param("accounts") Collection<Long> accounts, @Param("since") Instant since);

  List<FoundRow> of(@Param("id") long id, @Param("accounts") Collection<Long> accounts);

  /** What is nobody's and not declared, by line. */
  List<FoundRow> strays(
      @Param("id") long id,
      @Param("application") String application,
      @Param("today") LocalDate today,
      @Param("after") int after,
      @Param("limit") int limit);

  @Nullable FoundRow byNativeId(@Param("id") long id, @Param("nativeId") String nativeId);

  List<Held> holdings(@Param("id") long id, @Param("references") Collection<String> references);

  void dropRights(@Param("application") String application, @Param("id") long id);

  void keepRight(
      @Param("application") String application,
      @Param("kind") String kind,
      @Param("technicalName") String technicalName,
      @Param("holders") int holders,
      @Param("id") long id);

  List<FoundRight> rights(@Param("application") String application);
}
