package glenmoor.store.authorization;

import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code duty_assignment}. */
public interface DutyMapper {
  /**
   * A duty that was given.
   *
   * @param endedAt when it was taken; null while it stands, whatever its dates say
   */
  record DutyRow(
      Long id,
      String login,
      String duty,
      String scopeKind,
      String scopeKey,
      @Nullable LocalDate fromDay,
      @Nullable LocalDate untilDay,
      String givenBy,
      Instant givenAt,
      String reason,
      @Nullable Instant endedAt,
      String endedBy,
      String endReason) {}

  /** Those that stand, of one sign-in or of all where none is named, by sign-in and duty. */
  List<DutyRow> open(@Param("login") @Nullable String login);

  /**
   * The people who have a duty on a day, for everything or for one application.
   *
   * @param kind of the one thing it is held for, such as application
   * @param key of that thing; empty for everything only
   */
  List<Long> holders(
      @Param("duty") String duty,
      @Param("kind") String kind,
      @Param("key") String key,
      @Param("today") LocalDate today);

  /** Somebody who has a duty for one thing, such as a portfolio. */
  record ScopedHolder(String scopeKey, String workerNumber, String name) {}

  /** The people who have a duty for something of a kind on a day, by name. */
  List<ScopedHolder> scopedHolders(
      @Param("duty") String duty, @Param("kind") String kind, @Param("today") LocalDate today);

  /** One that stands or has ended. */
  @Nullable DutyRow byId(@Param("id") long id);

  /** All there ever were, or those that stand, the newest first, a page at a time. */
  List<DutyRow> list(
      @Param("ended") boolean ended, @Param("before") long before, @Param("limit") int limit);

  void insert(DutyRow row);

  /** Ends one; 0 if it had ended already. */
  int end(
      @Param("id") long id,
      @Param("by") String by,
      @Param("reason") String reason,
      @Param("now") Instant now);

  /**
   * Locks what is open-ended of a duty over everything and has begun, of sign-ins in force, so that
   * the last one cannot go twice.
   */
  List<DutyRow> lockOpenEnded(@Param("duty") String duty, @Param("today") LocalDate today);
}
