package glenmoor.store.requests;

import java.time.Instant;
import java.time.LocalDate;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code away_period}. */
public interface AwayMapper {
  /** Somebody is away from a day to a day, both included, and somebody acts for them. */
  record AwayRow(
      Long id,
      Long personId,
      Long deputyId,
      LocalDate fromDay,
      LocalDate untilDay,
      String madeBy,
      Instant madeAt,
      @Nullable Instant endedAt) {}

  void insert(AwayRow row);

  /** Ends one; 0 if it had ended already. */
  int end(@Param("id") long id, @Param("now") Instant now);

  @Nullable AwayRow byId(@Param("id") long id);

  /** Those of people that cover a day, the newest first. */
  List<AwayRow> covering(@Param("people") Collection<Long> people, @Param("day") LocalDate day);

  /** Those of somebody that are not over by a day, the next one first. */
  List<AwayRow> ahead(@Param("person") long person, @Param("day") LocalDate day);
}
