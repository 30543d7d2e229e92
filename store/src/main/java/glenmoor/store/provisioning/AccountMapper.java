package glenmoor.store.provisioning;

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
      String nativeId,
      @Nullable Instant heldSince,
      Integer nextSequence) {}

  record HoldingRow(
      Long accountId,
      String entitlement,
      Boolean wanted,
      Boolean held,
      @Nullable Instant heldSince) {}

  /** How many accounts something is in use by. */
  record Uses(String key, Integer accounts) {}

  record Highest(String baseName, Integer number) {}

  List<AccountRow> of(@Param("people") Collection<Long> people);

  List<HoldingRow> holdings(@Param("accounts") Collection<Long> accounts);

  List<Highest> highest(
      @Param("application") String application, @Param("bases") Collection<String> bases);

  /** How many accounts each of these applications has, as wanted or as seen; none is no row. */
  List<Uses> accountsIn(@Param("applications") Collection<String> applications);

  /** How many accounts hold each of these entitlements, as wanted or as seen; none is no row. */
  List<Uses> holdersOf(@Param("entitlements") Collection<String> entitlements);

  void update(@Param("accounts") List<AccountRow> accounts);

  void want(@Param("holdings") List<HoldingRow> holdings);

  void nextSequence(@Param("id") long id, @Param("next") int next);

  /** Writes what was seen of accounts: a JSON array of {@link Seen}. */
  void seen(@Param("seen") String seen);

  /** Writes what was seen of holdings: a JSON array of {@link Held}. */
  void held(@Param("held") String held);

  /** What a read-back showed of an account; a null state tells nothing about it. */
  record Seen(long id, @Nullable String state, String nativeId) {}

  /** What a read-back showed of a holding; {@code held} is 1 or 0. */
  record Held(long accountId, String entitlement, int held, String at) {}
}
