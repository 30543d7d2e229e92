package glenmoor.engine.applications;

import glenmoor.core.applications.HealthTurn;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.Refused;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.time.Clock;
import glenmoor.store.applications.HealthMapper;
import jakarta.inject.Named;
import java.time.Duration;
import java.util.List;

/** When applications were well and when not, for a year back. */
@Named
public final class HealthHistory implements RecurringJob.Owner {
  private static final Duration KEPT = Duration.ofDays(366);
  private static final int MOST_DAYS = 366;
  private static final int MOST_TURNS = 1_000;

  private final HealthMapper health;
  private final KnownApplications applications;
  private final Clock clock;

  HealthHistory(HealthMapper health, KnownApplications applications, Clock clock) {
    this.health = health;
    this.applications = applications;
    this.clock = clock;
  }

  /**
   * The turns of an application's health in the last days, in order, and before them the one that
   * counted when they began. Of very many the last thousand are given.
   *
   * @param days how many, from 1 to 366
   * @throws Refused if there is no such application, or no such number of days
   */
  public List<HealthTurn> of(String key, int days, Actor actor) {
    if (days < 1 || days > MOST_DAYS) {
      throw Refused.badInput("days must be from 1 to %d; it is %d.".formatted(MOST_DAYS, days));
    }
    applications.of(key, Permission.SEE_APPLICATIONS, actor);
    return health.turns(key, clock.instant().minus(Duration.ofDays(days)), MOST_TURNS).reversed();
  }

  @Override
  public List<RecurringJob> recurring() {
    return List.of(
        new RecurringJob(
            "health-history",
            "forgets how applications were more than a year ago",
            Duration.ofHours(1),
            () -> health.forget(clock.instant().minus(KEPT))));
  }
}
