package glenmoor.server.jobs;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.jobs.RecurringJobs;
import glenmoor.server.Lists;
import glenmoor.server.authorization.Needs;
import java.time.Instant;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** What recurs, and when it last did. */
@RestController
@RequestMapping("/api/v1/jobs")
class RecurringJobsApi {
  /** One job; its times are the system's, not the demo's. */
  record JobShown(
      String name,
      String what,
      boolean late,
      Instant nextAt,
      @Nullable String runsOn,
      @Nullable Instant lastSuccess,
      @Nullable Instant lastFailure,
      int failures) {}

  private final RecurringJobs jobs;

  RecurringJobsApi(RecurringJobs jobs) {
    this.jobs = jobs;
  }

  @Needs(Permission.SEE_APPLICATIONS)
  @GetMapping
  Lists.Page<JobShown> list(Actor actor) {
    return new Lists.Page<>(
        jobs.list(actor).stream()
            .map(job ->
                new JobShown(
                    job.row().name(),
                    job.what(),
                    job.late(),
                    job.row().nextAt(),
                    job.row().pickedBy(),
                    job.row().lastSuccess(),
                    job.row().lastFailure(),
                    job.row().failures()))
            .toList(),
        null);
  }
}
