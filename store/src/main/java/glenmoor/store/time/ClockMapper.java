package glenmoor.store.time;

import glenmoor.store.Unsignalled;
import java.time.Instant;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** The movable clock of a demo or test, and the times the database gives its rows. */
public interface ClockMapper {
  /**
   * The movable clock.
   *
   * @param at up to when it was read, at the most
   * @param offsetMicros how far it is from the system's
   * @param aliveAt when a service last went by it, by the system's clock
   */
  record ClockRow(Instant at, Long offsetMicros, @Nullable Instant aliveAt) {}

  @Nullable ClockRow movableClock();

  /** The same, locked for this transaction. */
  @Nullable ClockRow lockMovableClock();

  void putMovableClock(
      @Param("at") Instant at,
      @Param("offsetMicros") long offsetMicros,
      @Param("aliveAt") Instant aliveAt);

  /** Notes up to when the clock was read; it never goes back. */
  @Unsignalled
  void readMovableClock(@Param("at") Instant at, @Param("aliveAt") Instant aliveAt);

  /** Makes the database's own row times follow the movable clock, until told otherwise. */
  @Unsignalled
  void recordTimesAt(@Param("epochSeconds") double epochSeconds);
}
