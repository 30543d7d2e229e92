package glenmoor.store.provisioning;

import glenmoor.core.people.ValueCount;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code account} and {@code holding}. */
public interface AccountMapper {
  record AccountRow(
      Long id,
      Long personId,
      String application,
      String baseName,
      Integer number,
      String name,
      String container,
      String attributes,
      String state,
      String seenState,
      String seenName,
      String seenContainer,
      String seenAttributes,
      @Nullable String nativeId,
      @Nullable Instant unneededSince,
      Integer nextSequence) {}

  record HoldingRow(
      Long accountId,
      String entitlement,
      Boolean desired,
      Boolean observed,
      @Nullable Instant observedSince) {}

  /** How many accounts something is in use by. */
  record Uses(String key, Integer accounts) {}

  record Highest(String baseName, Integer number) {}

  List<AccountRow> of(@Param("people") Collection<Long> people);

  List<HoldingRow> holdings(@Param("accounts") Collection<Long> accounts);

  /** Accounts of people whose making failed or was given up. */
  List<Long> unmade(@Param("people") Collection<Long> people);

  List<AccountRow> byIds(@Param("accounts") Collection<Long> accounts);

  /** Accounts, locked for this transaction. */
  List<AccountRow> lock(@Param("accounts") Collection<Long> accounts);

  /** The account that a native id belongs to, or null. */
  @Nullable Long ownerOf(
      @Param("application") String application, @Param("nativeId") String nativeId);

  /** An account whose native id another one was just seen with. */
  record Owner(Long accountId, Long claimedBy) {}

  /** Which of the native ids just seen belong to another account; a JSON array of {@link Seen}. */
  List<Owner> owners(@Param("seen") String seen);

  /** The highest number in use of each base name; {@code cutoff} is when freed names are free. */
  List<Highest> highest(
      @Param("application") String application,
      @Param("bases") Collection<String> bases,
      @Param("cutoff") Instant cutoff);

  record Holder(String nameKey, Long accountId) {}

  /** Whose these names are. */
  List<Holder> holders(
      @Param("application") String application,
      @Param("keys") Collection<String> keys,
      @Param("cutoff") Instant cutoff);

  /** A name to take or to give up; moments as SqlTime writes them. */
  record Name(
      String application,
      String key,
      String name,
      String baseName,
      int number,
      long account,
      String cutoff) {}

  /** Gives names up: a JSON array of {@link Name}. */
  void freeNames(@Param("names") String names, @Param("now") Instant now);

  /** Makes room for names that are an account's own, or free by now. */
  void clearNames(@Param("names") String names);

  /** Takes names; one that is somebody else's is a duplicate key. */
  void takeNames(@Param("names") String names);

  /** Accounts that are no longer there. */
  void gone(@Param("accounts") Collection<Long> accounts);

  /** Accounts that are no longer there hold nothing. */
  void nothingObserved(@Param("accounts") Collection<Long> accounts);

  /**
   * How many accounts each of these applications has, as desired or as observed; none is no row.
   */
  List<Uses> accountsIn(@Param("applications") Collection<String> applications);

  /** How many accounts are enabled in each of some applications, or are about to be. */
  List<ValueCount> countEnabled(@Param("applications") Collection<String> applications);

  /**
   * How many accounts hold each of these entitlements, as desired or as observed; none is no row.
   */
  List<Uses> holdersOf(@Param("entitlements") Collection<String> entitlements);

  void update(@Param("accounts") List<AccountRow> accounts);

  void desire(@Param("holdings") List<HoldingRow> holdings);

  void nextSequence(@Param("id") long id, @Param("next") int next);

  /** Writes what was seen of accounts: a JSON array of {@link Seen}. */
  void seen(@Param("seen") String seen);

  /** Writes what was seen of holdings: a JSON array of {@link Observed}. */
  void observe(@Param("observed") String observed);

  /**
   * What a read-back showed of an account; null tells nothing about it.
   *
   * @param attributes canonical JSON
   */
  record Seen(
      long id,
      String application,
      @Nullable String state,
      @Nullable String name,
      @Nullable String container,
      @Nullable String attributes,
      @Nullable String nativeId) {}

  /** What a read-back showed of a holding; {@code observed} is 1 or 0. */
  record Observed(long accountId, String entitlement, int observed, String at) {}
}
