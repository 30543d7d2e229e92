package glenmoor.engine.jobs;

import glenmoor.core.agenda.Schedule;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.jobs.ScheduleMapper;
import glenmoor.store.jobs.ScheduleMapper.Due;
import jakarta.inject.Named;
import java.time.Instant;
import java.time.ZoneId;
import java.util.HashMap;
import java.util.Map;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;

/** Begins what definitions give a schedule to, each time once, whichever service comes first. */
@Named
public final class Schedules {
  private final ScheduleMapper mapper;
  private final Transactions transactions;
  private final Clock clock;
  private final ZoneId zone;

  public Schedules(ScheduleMapper mapper, Transactions transactions, Clock clock, ZoneId zone) {
    this.mapper = mapper;
    this.transactions = transactions;
    this.clock = clock;
    this.zone = zone;
  }

  /**
   * Begins what is due. What is new or has another schedule is due at its next moment from now.
   *
   * @param owner the kind of thing, one word
   * @param wanted the schedules by the names of things; what is not among them is forgotten
   * @param begin called inside the transaction that notes it, with the name
   */
  public void due(String owner, Map<String, Schedule> wanted, Consumer<String> begin) {
    var now = clock.instant();
    var known = new HashMap<String, Due>();
    mapper.of(owner).forEach(row -> known.put(row.name(), row));
    known.keySet().stream()
        .filter(name -> !wanted.containsKey(name))
        .forEach(name -> transactions.run(() -> mapper.drop(owner, name)));
    wanted.forEach((name, schedule) -> {
      var next = schedule.next(now, zone);
      var row = known.get(name);
      if (next.isEmpty()) {
        transactions.run(() -> mapper.drop(owner, name));
      } else if (row == null || !row.schedule().equals(schedule.toString())) {
        transactions.run(() -> mapper.put(owner, new Due(name, schedule.toString(), next.get())));
      } else if (!row.dueAt().isAfter(now)) {
        transactions.run(() -> {
          if (mapper.moveOn(owner, name, row.dueAt(), next.get()) > 0) {
            begin.accept(name);
          }
        });
      }
    });
  }

  /** When the next of a kind is due after now; null for none. */
  public @Nullable Instant next(String owner) {
    var now = clock.instant();
    return mapper.of(owner).stream()
        .map(Due::dueAt)
        .filter(at -> at.isAfter(now))
        .min(Instant::compareTo)
        .orElse(null);
  }
}
