package glenmoor.store.usage;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code access_use} and {@code told_use}. */
public interface UsageMapper {
  /** What a file or a call tells. */
  record ToldRow(
      Long batchId,
      Integer line,
      String account,
      String worker,
      String entitlement,
      Instant lastUsed,
      @Nullable Long accountId) {}

  /** Finds the accounts of an application that a batch names by what they are called. */
  void joinByAccount(@Param("batch") long batch, @Param("application") String application);

  /** Finds those that it names by their person. */
  void joinByWorker(@Param("batch") long batch, @Param("application") String application);

  /** Keeps the last use of each right and account that was found; an older one changes nothing. */
  void keep(@Param("batch") long batch, @Param("now") Instant now);

  /**
   * Keeps for the accounts what is kept for their rights: whoever uses a right uses the account.
   */
  void keepAccounts(@Param("batch") long batch, @Param("now") Instant now);

  /**
   * Keeps what the list of a reconcile tells of its accounts.
   *
   * @param latest what would be later is not believed
   */
  void keepFound(
      @Param("reconcile") long reconcile,
      @Param("now") Instant now,
      @Param("latest") Instant latest);

  /** When an account was last used, as the database reads it. */
  record Listed(long account, String at) {}

  /**
   * The same of accounts that a reconcile need not keep.
   *
   * @param uses a JSON array of {@link Listed}
   * @param latest what would be later is not believed
   */
  void keepListed(
      @Param("uses") String uses, @Param("now") Instant now, @Param("latest") Instant latest);

  int countKept(@Param("batch") long batch);

  /** Those whose account was not found, the first so many. */
  List<ToldRow> unknown(@Param("batch") long batch, @Param("limit") int limit);

  void forget(@Param("batch") long batch);

  /**
   * Something that was not used for long.
   *
   * @param entitlement empty for the whole account
   * @param lastUsed null where it was never seen used
   * @param since from when it counts: the last use, or when it was there first
   */
  record IdleRow(
      Long accountId,
      Long personId,
      String application,
      String account,
      String worker,
      String person,
      String entitlement,
      @Nullable Instant lastUsed,
      Instant since) {}

  /** From when something in an application is idle. */
  record Watch(String application, String before) {}

  /**
   * Accounts that are enabled and idle, and rights that are held, of which a use was ever told, and
   * that are idle while their account is not; by account and right.
   *
   * @param watches a JSON array of {@link Watch}
   */
  List<IdleRow> idle(
      @Param("watches") String watches,
      @Param("after") long after,
      @Param("afterEntitlement") String afterEntitlement,
      @Param("limit") int limit);

  /** Accounts that are enabled and idle in one application, by account. */
  List<IdleRow> idleAccounts(
      @Param("application") String application,
      @Param("before") Instant before,
      @Param("after") long after,
      @Param("limit") int limit);

  /** When something was used last. */
  record LastUse(Long accountId, String entitlement, Instant lastUsed) {}

  List<LastUse> of(@Param("accounts") Collection<Long> accounts);
}
