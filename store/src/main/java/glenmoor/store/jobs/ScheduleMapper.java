package glenmoor.store.jobs;

import java.time.Instant;
import java.util.List;
import org.apache.ibatis.annotations.Param;

/** Rows of {@code schedule_due}: when what a definition gives a schedule to is due next. */
public interface ScheduleMapper {
  record Due(String name, String schedule, Instant dueAt) {}

  List<Due> of(@Param("owner") String owner);

  void put(@Param("owner") String owner, @Param("due") Due due);

  /** Moves one on; 0 if another service did. */
  int moveOn(
      @Param("owner") String owner,
      @Param("name") String name,
      @Param("was") Instant was,
      @Param("next") Instant next);

  void drop(@Param("owner") String owner, @Param("name") String name);
}
