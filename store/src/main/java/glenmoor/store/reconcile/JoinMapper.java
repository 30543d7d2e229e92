package glenmoor.store.reconcile;

import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code found_join}: what people and accounts that are nobody's are joined by. */
public interface JoinMapper {
  /** A value of a person, or of a drift about an account that is nobody's. */
  record Line(long reconcileId, String value, @Nullable Long personId, @Nullable Long driftId) {}

  record Match(Long drift, Long person) {}

  int drop(@Param("id") long id);

  /** Notes the value of each stray account; {@code path} is where it stands in what was found. */
  void stageStrays(
      @Param("id") long id, @Param("application") String application, @Param("path") String path);

  /** Where exactly one person and exactly one account have the same value. */
  List<Match> byValue(@Param("id") long id, @Param("drifts") Collection<Long> drifts);

  /** Where the account carries the worker number of somebody. */
  List<Match> byWorker(@Param("drifts") Collection<Long> drifts);
}
