package glenmoor.store.jobs;

import glenmoor.core.jobs.RecurringJobRun;
import glenmoor.store.Unsignalled;
import java.time.Instant;
import java.util.List;
import org.apache.ibatis.annotations.Param;

/** What recurs, as the scheduler keeps it; its times are the system's. */
public interface RecurringJobMapper {
  /** Until when a job may rest, by its name. */
  record LongestRest(String name, Instant until) {}

  List<RecurringJobRun> all();

  /** Has jobs that would rest longer run now, but for those that run already. */
  @Unsignalled
  void bringForward(@Param("rests") List<LongestRest> rests, @Param("now") Instant now);
}
