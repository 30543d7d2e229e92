package glenmoor.store.tasks;

import java.time.Instant;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code task_reminder}, and the tasks and faults they are about. */
public interface TaskReminderMapper {
  /** When somebody was last told; null for never. */
  @Nullable Instant told(@Param("application") String application, @Param("told") String told);

  void note(
      @Param("application") String application,
      @Param("told") String told,
      @Param("at") Instant at);

  /**
   * Since when the oldest task or fault waits that began to after a moment; null if there is none.
   */
  @Nullable Instant oldest(
      @Param("application") String application, @Param("after") @Nullable Instant after);

  /** How many tasks and faults have waited since a moment or longer. */
  int count(@Param("application") String application, @Param("until") Instant until);

  /** What is to be done in the oldest of them, in words. */
  List<String> words(
      @Param("application") String application,
      @Param("until") Instant until,
      @Param("limit") int limit);
}
