package glenmoor.store.applications;

import java.time.Instant;
import java.time.LocalDate;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Who has what in one application. */
public interface HoldersMapper {
  /** An account with its person and how many entitlements it was last seen with. */
  record AccountListed(
      Long id,
      String workerNumber,
      String personName,
      String name,
      String state,
      String seenState,
      Integer rights,
      @Nullable Instant unneededSince) {}

  /** How many things happen on a day. */
  record OnDay(LocalDate day, Integer number) {}

  /**
   * Accounts in the order in which they were made.
   *
   * @param seen how they were last seen; null for all
   */
  List<AccountListed> accounts(
      @Param("application") String application,
      @Param("seen") @Nullable String seen,
      @Param("after") long after,
      @Param("limit") int limit);

  /** Disabled accounts that nobody needs since a time between two moments, by the day of it. */
  List<OnDay> unneeded(
      @Param("application") String application,
      @Param("from") Instant from,
      @Param("until") Instant until);

  /** Grants of these targets that end between two moments, by day. */
  List<OnDay> ending(
      @Param("targets") Collection<String> targets,
      @Param("from") Instant from,
      @Param("until") Instant until);
}
