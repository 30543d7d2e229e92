package glenmoor.engine.jobs;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.jobs.RecurringJobRun;
import glenmoor.engine.Authorization;
import glenmoor.store.jobs.RecurringJobMapper;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.time.InstantSource;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/** What recurs, and whether it does; by the system's time. */
@Named
public final class RecurringJobs {
  /** A job that is this late turns health. */
  private static final Duration LATE = Duration.ofMinutes(1);

  /** A job with its last run. */
  public record Job(RecurringJobRun row, String what, boolean late) {}

  private final RecurringJobMapper mapper;
  private final Map<String, String> what;
  private final Map<String, Duration> rests;
  private final InstantSource system = InstantSource.system();

  public RecurringJobs(RecurringJobMapper mapper, List<RecurringJob.Owner> owners) {
    this.mapper = mapper;
    var all = RecurringJob.all(owners);
    what = all.stream().collect(Collectors.toMap(RecurringJob::name, RecurringJob::what));
    rests = all.stream().collect(Collectors.toMap(RecurringJob::name, RecurringJob::longest));
  }

  public List<Job> list(Actor actor) {
    Authorization.need(actor, Permission.SEE_APPLICATIONS);
    var now = system.instant();
    return mapper.all().stream()
        .map(row -> new Job(row, what.getOrDefault(row.name(), ""), isLate(row, now)))
        .toList();
  }

  /** The names of the jobs that should have run by now. */
  public List<String> late() {
    var now = system.instant();
    return mapper.all().stream()
        .filter(row -> isLate(row, now))
        .map(RecurringJobRun::name)
        .toList();
  }

  /** One that should have run, or that is put off for longer than it may ever rest. */
  private boolean isLate(RecurringJobRun row, Instant now) {
    var longest = rests.get(row.name());
    return row.nextAt().plus(LATE).isBefore(now)
        || longest != null && row.nextAt().isAfter(now.plus(longest).plus(JobRests.AHEAD));
  }
}
