package glenmoor.server;

import com.github.kagkarlsson.scheduler.Scheduler;
import glenmoor.engine.identity.SignIns;
import glenmoor.engine.jobs.Jobs;
import glenmoor.engine.provisioning.OperationWorkers;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.ApplicationListener;
import org.springframework.stereotype.Component;

/** Once requests are answered: the first administrator, the workers, and what recurs. */
@Component
class Startup implements ApplicationListener<ApplicationReadyEvent> {
  private final ServiceSettings settings;
  private final SignIns signIns;
  private final OperationWorkers workers;
  private final Jobs jobs;
  private final Scheduler scheduler;

  Startup(
      ServiceSettings settings,
      SignIns signIns,
      OperationWorkers workers,
      Jobs jobs,
      Scheduler scheduler) {
    this.settings = settings;
    this.signIns = signIns;
    this.workers = workers;
    this.jobs = jobs;
    this.scheduler = scheduler;
  }

  @Override
  public void onApplicationEvent(ApplicationReadyEvent ready) {
    var password = settings.secret(Setting.GLENMOOR_ADMIN_PASSWORD_FILE);
    if (!password.isEmpty()) {
      signIns.first(settings.get(Setting.GLENMOOR_ADMIN_LOGIN), password);
    }
    jobs.beat();
    workers.start();
    scheduler.start();
  }
}
