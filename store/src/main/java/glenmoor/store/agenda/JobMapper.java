package glenmoor.store.agenda;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** What recurs, as the scheduler keeps it; its times are the system's. */
public interface JobMapper {
  /** A job with its last run; {@code pickedBy} is who is at it now. */
  record JobRow(
      String name,
      Instant nextAt,
      @Nullable String pickedBy,
      @Nullable Instant lastSuccess,
      @Nullable Instant lastFailure,
      int failures) {}

  List<JobRow> all();
}
