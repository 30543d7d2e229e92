package glenmoor.store.exchange;

import glenmoor.core.exchange.OrderFile;
import java.time.Instant;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code order_file}, and what such a file says of accounts. */
public interface OrderFileMapper {
  /**
   * An account as it shall be.
   *
   * @param attributes canonical JSON
   * @param entitlements their keys with blanks between, or null for none
   */
  record AccountRow(
      Long id,
      String worker,
      String name,
      String state,
      String attributes,
      @Nullable String entitlements) {}

  void insert(@Param("file") OrderFile file);

  /** A page of an application's files, the newest first. */
  List<OrderFile> of(
      @Param("application") String application,
      @Param("before") @Nullable Long before,
      @Param("limit") int limit);

  /** The newest of an application's files, or null. */
  @Nullable OrderFile newest(@Param("application") String application);

  /** Notes that a file was answered; 0 if that is known, or there is no such file. */
  int answered(
      @Param("application") String application,
      @Param("name") String name,
      @Param("at") Instant at,
      @Param("accounts") int accounts,
      @Param("problems") int problems);

  /** How many files were written at this very moment, or later, and are not answered. */
  int openSince(@Param("at") Instant at);

  /** Marks what waits in an application as handed over at this moment; how many there were. */
  int handOver(@Param("application") String application, @Param("at") Instant at);

  /**
   * Accounts in order of identity: all there shall be, and those about which something waits; or
   * only the latter.
   */
  List<AccountRow> accounts(
      @Param("application") String application,
      @Param("all") boolean all,
      @Param("after") long after,
      @Param("limit") int limit);

  /** Accounts with something that waits and was handed over. */
  List<Long> awaiting(
      @Param("application") String application,
      @Param("after") long after,
      @Param("limit") int limit);

  /** Whether something waits in an application. */
  boolean waits(@Param("application") String application);

  /** Whether something waits in an application that waited at a moment already. */
  boolean waitedAt(@Param("application") String application, @Param("at") Instant at);

  /** Whether something waits that was not handed over, about somebody who was cut off. */
  boolean cutOffWaits(@Param("application") String application);
}
