package glenmoor.engine.agenda;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.authorization.Authorization;
import glenmoor.store.agenda.JobMapper;
import glenmoor.store.agenda.JobMapper.JobRow;
import java.time.Duration;
import java.time.Instant;
import java.time.InstantSource;
import java.util.List;
import java.util.Map;

/** What recurs, and whether it does; by the system's time. */
public final class Jobs {
  /** What each job is for. */
  private static final Map<String, String> WHAT =
      Map.of(
          "sweep", "carries out what is due: planning for people, by date or by change",
          "health", "asks each application for something small",
          "closing", "closes work and feeds whose service ended");

  /** A job that is this late turns health. */
  private static final Duration LATE = Duration.ofMinutes(1);

  /** A job with its last run. */
  public record Job(JobRow row, String what, boolean late) {}

  private final JobMapper mapper;
  private final InstantSource system = InstantSource.system();

  public Jobs(JobMapper mapper) {
    this.mapper = mapper;
  }

  public List<Job> list(Actor actor) {
    Authorization.need(actor, Permission.SEE_APPLICATIONS);
    var now = system.instant();
    return mapper.all().stream()
        .map(row -> new Job(row, WHAT.getOrDefault(row.name(), ""), isLate(row, now)))
        .toList();
  }

  /** The names of the jobs that should have run by now. */
  public List<String> late() {
    var now = system.instant();
    return mapper.all().stream().filter(row -> isLate(row, now)).map(JobRow::name).toList();
  }

  private static boolean isLate(JobRow row, Instant now) {
    return row.nextAt().plus(LATE).isBefore(now);
  }
}
