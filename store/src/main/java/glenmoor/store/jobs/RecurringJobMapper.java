package glenmoor.store.jobs;

import glenmoor.core.jobs.RecurringJobRun;
import java.util.List;

/** What recurs, as the scheduler keeps it; its times are the system's. */
public interface RecurringJobMapper {
  List<RecurringJobRun> all();
}
