package glenmoor.store.requests;

import glenmoor.store.access.GrantMapper.GrantRow;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;

/** Rows of {@code grant_told}: of what channels were told. */
public interface GrantToldMapper {
  /** A fault that nobody was told of. */
  record FaultRow(Long id, Long personId, String application, String reason) {}

  /**
   * Grants by some offers that began, or ended, between two moments, and of which that was not
   * told.
   */
  List<GrantRow> untold(
      @Param("begins") boolean begins,
      @Param("what") String what,
      @Param("offers") Collection<String> offers,
      @Param("from") Instant from,
      @Param("to") Instant to,
      @Param("limit") int limit);

  List<FaultRow> faults(@Param("limit") int limit);

  void told(
      @Param("grant") long grant,
      @Param("what") String what,
      @Param("operation") long operation,
      @Param("now") Instant now);

  /** Notes that of all faults there are, nobody needs to be told. */
  void noFaults(@Param("now") Instant now);
}
