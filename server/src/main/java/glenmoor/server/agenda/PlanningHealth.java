package glenmoor.server.agenda;

import glenmoor.engine.jobs.RecurringJobs;
import glenmoor.engine.provisioning.Planning;
import org.springframework.boot.health.contributor.Health;
import org.springframework.boot.health.contributor.HealthIndicator;
import org.springframework.stereotype.Component;

/** Health turns when planning does not get on, or what recurs does not. */
@Component("planningHealthIndicator")
class PlanningHealth implements HealthIndicator {
  private final Planning planning;
  private final RecurringJobs jobs;

  PlanningHealth(Planning planning, RecurringJobs jobs) {
    this.planning = planning;
    this.jobs = jobs;
  }

  @Override
  public Health health() {
    var since = planning.lateSince();
    var late = jobs.late();
    if (since == null && late.isEmpty()) {
      return Health.up().build();
    }
    var health = Health.down();
    if (since != null) {
      health.withDetail("peopleWaitSince", since.toString());
    }
    return health.withDetail("lateJobs", late).build();
  }
}
