package glenmoor.store.progress;

import java.time.Instant;
import java.util.Collection;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code progress}: how far long work has come, for whoever asked for it. */
public interface ProgressMapper {
  record ProgressRow(
      Long id,
      String what,
      String state,
      Integer done,
      Integer total,
      String sentence,
      String result,
      Instant startedAt,
      @Nullable Instant endedAt,
      String owner) {}

  void insert(ProgressRow row);

  void update(ProgressRow row);

  /** Shows that work goes on, by the database's time. */
  void alive(@Param("ids") Collection<Long> ids);

  /** Closes as failed what still runs but did not show itself for so long. */
  void closeDead(
      @Param("seconds") long seconds,
      @Param("endedAt") Instant endedAt,
      @Param("sentence") String sentence);

  @Nullable ProgressRow byId(@Param("id") long id);
}
