package glenmoor.store.lifecycle;

import java.time.Instant;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code feed} and {@code feed_reject}. */
public interface FeedMapper {
  /** One delivery; {@code counts} is JSON: events by kind; {@code workId} is who reads it. */
  record FeedRow(
      Long id,
      String source,
      String fileName,
      String state,
      String sentence,
      Integer rowsRead,
      Integer rowsRejected,
      String counts,
      Instant startedAt,
      @Nullable Instant endedAt,
      String loadedBy,
      Long workId,
      Long heldChange) {}

  /** What the reading of a feed came to; {@code counts} is JSON: events by kind. */
  record FeedEnd(
      Long id,
      String state,
      String sentence,
      Integer rowsRead,
      Integer rowsRejected,
      String counts,
      Instant endedAt,
      long heldChange) {}

  record RejectRow(
      Integer number, Long line, String worker, String columnName, String found, String expected) {}

  /** Begins a feed; a second one of the same source at the same time is a duplicate key. */
  void insert(FeedRow feed);

  /** The newest feed of a source that was taken; null before the first. */
  @Nullable Long newestLoaded(@Param("source") String source);

  /** Ends the reading of a feed; gives 0 if it had ended already. */
  int end(FeedEnd end);

  @Nullable FeedRow byId(@Param("id") long id);

  /**
   * Feeds still being read by work that has ended, or did not show itself for so long by the
   * database's time.
   *
   * @param source one source, or null for all
   */
  List<FeedRow> dead(@Param("source") @Nullable String source, @Param("seconds") long seconds);

  List<FeedRow> before(@Param("before") long before, @Param("limit") int limit);

  void addRejects(@Param("feed") long feed, @Param("rejects") List<RejectRow> rejects);

  List<RejectRow> rejects(
      @Param("feed") long feed, @Param("after") int after, @Param("limit") int limit);
}
