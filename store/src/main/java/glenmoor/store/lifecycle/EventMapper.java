package glenmoor.store.lifecycle;

import glenmoor.core.lifecycle.EventProgress;
import glenmoor.core.lifecycle.EventSearch;
import glenmoor.core.lifecycle.KindCount;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code event}, and how far what follows from each has come. */
public interface EventMapper {
  record EventRow(
      Long id,
      Long personId,
      String kind,
      LocalDate effectiveOn,
      @Nullable Long feedId,
      String changes,
      Instant detectedAt,
      @Nullable Instant plannedAt) {}

  /**
   * The event that planning now follows from: the one not planned yet, or the last that moved
   * access.
   */
  record Latest(Long personId, Long id) {}

  void insert(@Param("events") List<EventRow> events);

  List<EventProgress> search(EventSearch search);

  List<KindCount> counts(@Param("since") Instant since, @Param("until") Instant until);

  void planned(@Param("people") Collection<Long> people, @Param("now") Instant now);

  List<Latest> latest(@Param("people") Collection<Long> people);
}
