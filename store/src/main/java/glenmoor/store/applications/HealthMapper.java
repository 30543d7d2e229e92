package glenmoor.store.applications;

import java.time.Instant;
import java.util.List;
import org.apache.ibatis.annotations.Param;

/** Rows of {@code application_health}, with what waits and what failed in each application. */
public interface HealthMapper {
  record HealthRow(String application, String state, String sentence, Instant since) {}

  /** Counts of one application. */
  record Load(
      String application,
      Integer accounts,
      Integer enabled,
      Integer waiting,
      Integer faults,
      Integer confirmedToday) {}

  List<HealthRow> all();

  void put(HealthRow row);

  List<Load> loads(@Param("midnight") Instant midnight);

  /** How many operations wait for an application. */
  int waiting(@Param("application") String application);
}
