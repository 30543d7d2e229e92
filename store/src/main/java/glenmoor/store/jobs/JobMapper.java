package glenmoor.store.jobs;

import glenmoor.core.jobs.Job;
import java.time.Instant;
import java.util.Collection;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code job}: how far long work has come, for whoever asked for it. */
public interface JobMapper {
  void insert(Job row);

  void update(Job row);

  /** Shows that work goes on, by the database's time. */
  void alive(@Param("ids") Collection<Long> ids);

  /** Closes as failed what still runs but did not show itself for so long. */
  void closeDead(
      @Param("seconds") long seconds,
      @Param("endedAt") Instant endedAt,
      @Param("sentence") String sentence);

  @Nullable Job byId(@Param("id") long id);
}
