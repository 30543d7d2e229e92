package glenmoor.server;

import com.github.kagkarlsson.scheduler.Scheduler;
import glenmoor.engine.identity.SignIns;
import glenmoor.engine.installation.Installations;
import glenmoor.engine.jobs.JobRests;
import glenmoor.engine.provisioning.OperationWorkers;
import glenmoor.server.jobs.LongWorkQueue;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.ApplicationListener;
import org.springframework.stereotype.Component;

/** Once requests are answered: the first administrator, the workers, and what recurs. */
@Component
class Startup implements ApplicationListener<ApplicationReadyEvent> {
  private final ServiceSettings settings;
  private final SignIns signIns;
  private final Installations installations;
  private final OperationWorkers workers;
  private final Scheduler scheduler;
  private final JobRests rests;
  private final LongWorkQueue longWork;

  Startup(
      ServiceSettings settings,
      SignIns signIns,
      Installations installations,
      OperationWorkers workers,
      Scheduler scheduler,
      JobRests rests,
      LongWorkQueue longWork) {
    this.settings = settings;
    this.signIns = signIns;
    this.installations = installations;
    this.workers = workers;
    this.scheduler = scheduler;
    this.rests = rests;
    this.longWork = longWork;
  }

  @Override
  public void onApplicationEvent(ApplicationReadyEvent ready) {
    // Before anything is written, or may act.
    installations.begin();
    var password = settings.secret(Setting.GLENMOOR_ADMIN_PASSWORD_FILE);
    if (!password.isEmpty()) {
      signIns.first(settings.get(Setting.GLENMOOR_ADMIN_LOGIN), password);
    }
    workers.start();
    scheduler.start();
    rests.start();
    longWork.start();
  }
}
