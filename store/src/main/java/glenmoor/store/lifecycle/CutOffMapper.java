package glenmoor.store.lifecycle;

import glenmoor.core.lifecycle.CutOff;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Collection;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** Rows of {@code cut_off}, and the day of it that stands with the person. */
public interface CutOffMapper {
  void begin(
      @Param("id") long id,
      @Param("person") long person,
      @Param("at") Instant at,
      @Param("by") String by,
      @Param("reason") String reason,
      @Param("event") long event);

  /** Ends those in force of these people. */
  void end(
      @Param("people") Collection<Long> people,
      @Param("at") Instant at,
      @Param("by") String by,
      @Param("ending") String ending,
      @Param("reason") String reason,
      @Param("event") @Nullable Long event);

  /** Writes the day with the people, or takes it away, and makes them due. */
  void mark(
      @Param("people") Collection<Long> people,
      @Param("day") @Nullable LocalDate day,
      @Param("now") Instant now,
      @Param("cause") String cause);

  /** The last of somebody; null if they never were. */
  @Nullable CutOff last(@Param("person") long person);

  /** Those in force, the last one first. */
  List<CutOff> inForce(@Param("before") @Nullable Long before, @Param("limit") int limit);
}
