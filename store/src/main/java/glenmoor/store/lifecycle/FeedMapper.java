package glenmoor.store.lifecycle;

import glenmoor.core.lifecycle.KeptFeed;
import glenmoor.core.lifecycle.RejectedRow;
import java.time.Instant;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code feed} and {@code feed_reject}. */
public interface FeedMapper {
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

  /** Adds a feed that waits for its turn. */
  void insert(KeptFeed feed);

  /** The newest feed that work brings; null for work that brings none. */
  @Nullable KeptFeed byWork(@Param("work") long work);

  /**
   * Begins to read a feed that waits: 0 if it does not any more, a duplicate key while another one
   * of its source is read.
   */
  int beginReading(@Param("id") long id);

  /** Whether a feed of a source that was brought earlier waits or is read. */
  boolean earlierOpen(@Param("source") String source, @Param("id") long id);

  /** The newest feed of a source that was taken; null before the first. */
  @Nullable Long newestLoaded(@Param("source") String source);

  /** Ends a feed; gives 0 if it had ended already. */
  int end(FeedEnd end);

  /** Keeps what the brakes measured of a feed, as JSON. */
  void measure(@Param("id") long id, @Param("measured") String measured);

  /** A feed that was measured. */
  record MeasuredFeed(
      Long id, String source, String fileName, Instant startedAt, String state, String measured) {}

  /** Those since a moment, the newest first. */
  List<MeasuredFeed> measuredSince(@Param("since") Instant since, @Param("limit") int limit);

  @Nullable KeptFeed byId(@Param("id") long id);

  /**
   * Feeds that wait or are read, but whose work is over.
   *
   * @param source one source, or null for all
   */
  List<KeptFeed> dead(@Param("source") @Nullable String source);

  /** How many of the newest ten, since a moment, were refused or had rejected rows. */
  int countUnclean(@Param("since") Instant since);

  List<KeptFeed> before(@Param("before") long before, @Param("limit") int limit);

  void addRejects(@Param("feed") long feed, @Param("rejects") List<RejectedRow> rejects);

  List<RejectedRow> rejects(
      @Param("feed") long feed, @Param("after") int after, @Param("limit") int limit);
}
