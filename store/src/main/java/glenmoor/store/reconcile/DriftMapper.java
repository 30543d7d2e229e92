package glenmoor.store.reconcile;

import glenmoor.core.reconcile.DriftSearch;
import glenmoor.core.reconcile.ServiceAccount;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code drift} and {@code service_account}. */
public interface DriftMapper {
  /**
   * A difference.
   *
   * @param subject which account it is about
   * @param expected and {@code found} are canonical JSON
   */
  record DriftRow(
      Long id,
      String application,
      String kind,
      String state,
      String response,
      String subject,
      @Nullable Long accountId,
      @Nullable Long personId,
      String nativeId,
      String accountName,
      String aspect,
      String expected,
      String found,
      Instant firstSeenAt,
      Instant lastSeenAt,
      Long seenIn,
      String outcome,
      @Nullable Instant settledAt,
      String settledBy,
      String reason) {}

  /** The same with whose account it is. */
  record ShownRow(
      Long id,
      String application,
      String kind,
      String state,
      String response,
      @Nullable Long accountId,
      @Nullable String worker,
      @Nullable String person,
      String accountName,
      String nativeId,
      String aspect,
      String expected,
      String found,
      Instant firstSeenAt,
      Instant lastSeenAt,
      String outcome,
      @Nullable Instant settledAt,
      String settledBy,
      String reason) {}

  record Count(String application, String kind, String response, Integer drifts) {}

  /** Keeps what was seen: anew, or as what is open already. */
  void see(@Param("rows") List<DriftRow> rows);

  /**
   * Settles what a comparison did not show any more, but for accounts that it passed over.
   *
   * @param since when reading began
   */
  int gone(
      @Param("application") String application,
      @Param("seenIn") long seenIn,
      @Param("since") Instant since,
      @Param("now") Instant now);

  /** Settles open ones; how many were open. */
  int settle(
      @Param("ids") Collection<Long> ids,
      @Param("outcome") String outcome,
      @Param("by") String by,
      @Param("reason") String reason,
      @Param("now") Instant now);

  /** Open ones of an application with this response, by identity, locked for this transaction. */
  List<DriftRow> toRespond(
      @Param("application") String application,
      @Param("response") String response,
      @Param("after") long after,
      @Param("limit") int limit);

  List<DriftRow> lock(@Param("ids") Collection<Long> ids);

  /** How many people would have something taken by repairs, and how many accounts are concerned. */
  int countTaking(@Param("application") String application);

  int countRepairing(@Param("application") String application);

  int countOpen(@Param("application") String application);

  /** Notes why an open one was not answered by itself. */
  void note(@Param("id") long id, @Param("reason") String reason);

  List<ShownRow> list(
      @Param("search") DriftSearch search, @Param("within") @Nullable Collection<String> within);

  @Nullable ShownRow byId(@Param("id") long id);

  List<Count> counts(@Param("within") @Nullable Collection<String> within);

  void declare(
      @Param("id") long id,
      @Param("application") String application,
      @Param("nativeId") String nativeId,
      @Param("name") String name,
      @Param("purpose") String purpose,
      @Param("owner") long owner,
      @Param("until") LocalDate until,
      @Param("by") String by,
      @Param("now") Instant now);

  List<ServiceAccount> declared(
      @Param("application") @Nullable String application,
      @Param("within") @Nullable Collection<String> within,
      @Param("before") long before,
      @Param("limit") int limit);

  /** One that somebody answers for; null where nobody does. */
  @Nullable ServiceAccount declaredOne(@Param("id") long id);

  int endDeclared(
      @Param("id") long id,
      @Param("within") @Nullable Collection<String> within,
      @Param("now") Instant now);

  /** How many service accounts somebody owns. */
  int ownedBy(@Param("owner") long owner);

  /** Service accounts of somebody are somebody else's now. */
  void handOver(@Param("owner") long owner, @Param("to") long to);
}
