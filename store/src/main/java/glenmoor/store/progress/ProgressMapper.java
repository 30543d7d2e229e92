package glenmoor.store.progress;

import java.time.Instant;
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
      @Nullable Instant endedAt) {}

  void insert(ProgressRow row);

  void update(ProgressRow row);

  @Nullable ProgressRow byId(@Param("id") long id);
}
