package glenmoor.store.conflicts;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code exemption}. */
public interface ExemptionMapper {
  /**
   * A conflict that is allowed.
   *
   * @param lineId the line of a request for which it was given; null for none
   */
  record ExemptionRow(
      Long id,
      Long personId,
      String ruleKey,
      String reason,
      String control,
      String givenBy,
      Instant givenAt,
      Instant untilAt,
      @Nullable Long lineId,
      @Nullable Instant endedAt) {}

  void insert(@Param("rows") Collection<ExemptionRow> rows);

  /** Somebody's that are in force at a moment. */
  List<ExemptionRow> inForce(@Param("person") long person, @Param("now") Instant now);
}
