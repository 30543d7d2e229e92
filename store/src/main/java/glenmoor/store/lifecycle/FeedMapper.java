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

  /** Begins a feed; a second one of the same source at the same time is a duplicate key. */
  void insert(KeptFeed feed);

  /** The newest feed of a source that was taken; null before the first. */
  @Nullable Long newestLoaded(@Param("source") String source);

  /** Ends the reading of a feed; gives 0 if it had ended already. */
  int end(FeedEnd end);

  @Nullable KeptFeed byId(@Param("id") long id);

  /**
   * Feeds still being read by work that has ended, or did not show itself for so long by the
   * database's time.
   *
   * @param source one source, or null for all
   */
  List<KeptFeed> dead(@Param("source") @Nullable String source, @Param("seconds") long seconds);

  /** How many of the newest ten, since a moment, were refused or had rows set aside. */
  int countUnclean(@Param("since") Instant since);

  List<KeptFeed> before(@Param("before") long before, @Param("limit") int limit);

  void addRejects(@Param("feed") long feed, @Param("rejects") List<RejectedRow> rejects);

  List<RejectedRow> rejects(
      @Param("feed") long feed, @Param("after") int after, @Param("limit") int limit);
}
