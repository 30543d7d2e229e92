package glenmoor.store.agenda;

import java.time.Instant;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;

/** The movable clock of a demo or test, and the blocks of identities. */
public interface AgendaMapper {
  @Nullable Instant movableClock();

  void setMovableClock(@Param("at") Instant at);

  long lockNextId();

  void setNextId(@Param("next") long next);

  /** Makes the database's own row times follow the movable clock, until told otherwise. */
  void recordTimesAt(@Param("epochSeconds") double epochSeconds);
}
