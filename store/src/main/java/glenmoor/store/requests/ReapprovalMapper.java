package glenmoor.store.requests;

import java.time.Instant;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code reapproval}: what is approved again after a move. */
public interface ReapprovalMapper {
  /**
   * One of them.
   *
   * @param keepUntil until when it is kept while it is decided on
   * @param endBefore when it would have ended without the move; null for never
   * @param state as {@code core.requests.Reapproval} names it
   * @param lineId of the request by which somebody is asked; null before
   */
  record ReapprovalRow(
      Long id,
      Long personId,
      String packageKey,
      Long moveId,
      Instant movedAt,
      Instant keepUntil,
      @Nullable Instant endBefore,
      String state,
      @Nullable Long lineId,
      @Nullable Instant settledAt) {
    /** The same in another state. */
    public ReapprovalRow in(String next, @Nullable Instant settled) {
      return new ReapprovalRow(
          id, personId, packageKey, moveId, movedAt, keepUntil, endBefore, next, lineId, settled);
    }

    /** The same once somebody is asked by a line. */
    public ReapprovalRow asked(String next, long line, @Nullable Instant end) {
      return new ReapprovalRow(
          id, personId, packageKey, moveId, movedAt, keepUntil, end, next, line, null);
    }
  }

  void insert(ReapprovalRow row);

  /** The one that is not over of a person and a package, for writing. */
  @Nullable ReapprovalRow lockOpen(
      @Param("person") long person, @Param("package") String rolePackage);

  @Nullable ReapprovalRow lock(@Param("id") long id);

  /** The one by whose line somebody is asked. */
  @Nullable ReapprovalRow ofLine(@Param("line") long line);

  /** Those that can go on: nothing else is open for the package, or their line is settled. */
  List<Long> ready(@Param("after") long after, @Param("limit") int limit);

  /** Writes all that may change. */
  void update(ReapprovalRow row);
}
