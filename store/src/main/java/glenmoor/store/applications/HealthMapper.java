package glenmoor.store.applications;

import glenmoor.core.applications.HealthTurn;
import glenmoor.store.Unsignalled;
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

  /** Notes how an application is, each time that it was asked; a {@link #turn} is what is news. */
  @Unsignalled
  void put(HealthRow row);

  /** Notes that health turned, unless the last turn was to the same. */
  void turn(@Param("id") long id, @Param("row") HealthRow row);

  /** The turns since a moment, the last first, and the one before them. */
  List<HealthTurn> turns(
      @Param("application") String application,
      @Param("since") Instant since,
      @Param("limit") int limit);

  void forget(@Param("before") Instant before);

  List<Load> loads(@Param("midnight") Instant midnight);

  /** How many operations wait for an application. */
  int waiting(@Param("application") String application);
}
