package glenmoor.engine.playbooks;

import glenmoor.core.agenda.Schedule;
import glenmoor.core.lifecycle.EventKind;
import glenmoor.core.playbooks.Playbook;
import glenmoor.core.playbooks.RunDay;
import glenmoor.core.playbooks.Trigger;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.jobs.Schedules;
import glenmoor.engine.playbooks.Beginnings.Wanted;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.playbooks.PlaybookRunMapper;
import glenmoor.store.playbooks.PlaybookRunMapper.Turned;
import glenmoor.store.usage.UsageMapper;
import glenmoor.store.usage.UsageMapper.IdleRow;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;

/**
 * Begins runs of what no event tells: days that come by themselves, such as the end of a contract,
 * schedules, and grants that begin or end.
 */
@Named
final class DaysAhead {
  private static final int BATCH = 500;

  /** A grant that was being written while the last look ended is seen by the next one. */
  private static final Duration OVERLAP = Duration.ofMinutes(5);

  private final PlaybookRunMapper runs;
  private final PersonMapper people;
  private final Beginnings beginnings;
  private final EventsPlayed events;
  private final Catalogues catalogues;
  private final Schedules schedules;
  private final Transactions transactions;
  private final Clock clock;
  private final UsageMapper usage;

  /** Up to which day, by playbook and revision of the definitions, this service has looked. */
  private final Map<String, LocalDate> looked = new HashMap<>();

  /** In which hour, by playbook, this service has looked for what is idle. */
  private final Map<String, Instant> lookedForIdle = new HashMap<>();

  private long revision = -1;

  DaysAhead(
      PlaybookRunMapper runs,
      PersonMapper people,
      Beginnings beginnings,
      EventsPlayed events,
      Catalogues catalogues,
      Schedules schedules,
      Transactions transactions,
      Clock clock,
      UsageMapper usage) {
    this.usage = usage;
    this.runs = runs;
    this.people = people;
    this.beginnings = beginnings;
    this.events = events;
    this.catalogues = catalogues;
    this.schedules = schedules;
    this.transactions = transactions;
    this.clock = clock;
  }

  /** Whether any playbook begins on what comes by itself. */
  boolean wanted() {
    return beginnings.playbooks().stream().anyMatch(DaysAhead::comesByItself);
  }

  private static boolean comesByItself(Playbook playbook) {
    return switch (playbook.on()) {
      case Trigger.OnEvent on -> Beginnings.dated(on.kind());
      case Trigger.OnSchedule on -> true;
      case Trigger.OnGrant on -> true;
      case Trigger.OnLastGrant on -> true;
      case Trigger.OnIdle on -> true;
      case Trigger.OnDemand on -> false;
    };
  }

  /**
   * Looks once a day for days that come, and each time for the rest.
   *
   * @return how many runs began
   */
  synchronized int look() {
    if (revision != catalogues.current().revision()) {
      looked.clear();
      lookedForIdle.clear();
      revision = catalogues.current().revision();
    }
    var begun = 0;
    var scheduled = new TreeMap<String, Playbook>();
    for (var playbook : beginnings.playbooks()) {
      switch (playbook.on()) {
        case Trigger.OnEvent on -> {
          if (Beginnings.dated(on.kind())) {
            begun += days(playbook, on.kind());
          }
        }
        case Trigger.OnSchedule on -> scheduled.put(playbook.key(), playbook);
        case Trigger.OnGrant on -> begun += grants(playbook, on);
        case Trigger.OnLastGrant on -> begun += lastGrants(playbook, on);
        case Trigger.OnIdle on -> begun += idle(playbook, on);
        case Trigger.OnDemand on -> {
          // Somebody plays it.
        }
      }
    }
    return begun + scheduled(scheduled);
  }

  private LocalDate today() {
    return clock.instant().atZone(catalogues.current().zone()).toLocalDate();
  }

  private int days(Playbook playbook, EventKind kind) {
    var today = today();
    if (today.equals(looked.get(playbook.key()))) {
      return 0;
    }
    var before = transactions.run(() -> seen(playbook));
    var zone = catalogues.current().zone();
    var from = before.atZone(zone).toLocalDate();
    var lead = playbook.steps().getFirst().at().map(when -> Math.max(0, -when.days())).orElse(0);
    var begun = 0;
    var after = 0L;
    List<Long> ids;
    do {
      var last = after;
      ids =
          runs.coming(
              kind.word(),
              from.isBefore(today) ? from : today,
              today.plusDays(lead + 1L),
              last,
              BATCH);
      var batch = ids;
      begun +=
          batch.isEmpty()
              ? 0
              : transactions.run(() -> coming(playbook, kind, batch, today.plusDays(lead + 1L)));
      after = ids.isEmpty() ? after : ids.getLast();
    } while (ids.size() == BATCH);
    transactions.run(() -> runs.look(playbook.key(), clock.instant()));
    looked.put(playbook.key(), today);
    return begun;
  }

  /** Since when a playbook looks; one that is new looks from now on. */
  private Instant seen(Playbook playbook) {
    var seen = runs.looked(playbook.key());
    return seen == null ? clock.instant() : seen;
  }

  private int coming(Playbook playbook, EventKind kind, List<Long> ids, LocalDate until) {
    var catalogue = catalogues.current();
    var rows = people.lock(ids);
    var before = events.before(ids);
    var unfinished = runs.unfinishedOf(ids);
    var wanted = new ArrayList<Wanted>();
    for (var row : rows) {
      var person = FactsJson.person(row, catalogue.facts());
      var day = RunDay.comes(kind, person).orElse(null);
      if (day != null
          && !day.isAfter(until)
          && !day.isBefore(today().minusDays(playbook.lateDays()))
          && RunDay.of(kind, day, person, today()) instanceof RunDay.Stays
          && Beginnings.isFor(playbook, person, catalogue)
          && unfinished.stream().noneMatch(run -> Beginnings.isOf(run, playbook, row.id()))
          && !before.did(playbook, kind, row.id(), day)) {
        wanted.add(
            new Wanted(
                playbook,
                row,
                person,
                null,
                day,
                "day:%s:%d:%s".formatted(playbook.key(), row.id(), day),
                "glenmoor"));
      }
    }
    return beginnings.begin(wanted);
  }

  private int grants(Playbook playbook, Trigger.OnGrant on) {
    return sinceLast(
        playbook,
        on,
        (from, now, after) -> runs.turned(on.begins(), on.rolePackage(), from, now, after, BATCH));
  }

  private int lastGrants(Playbook playbook, Trigger.OnLastGrant on) {
    return sinceLast(playbook, on, (from, now, after) -> runs.lastEnded(from, now, after, BATCH));
  }

  /** Looks once an hour: nobody is idle by the minute. */
  private int idle(Playbook playbook, Trigger.OnIdle on) {
    var now = clock.instant();
    var hour = now.truncatedTo(ChronoUnit.HOURS);
    if (hour.equals(lookedForIdle.get(playbook.key()))) {
      return 0;
    }
    var application = catalogues.current().application(on.application());
    var days = application.idleDays();
    var begun = 0;
    var after = 0L;
    List<IdleRow> rows;
    do {
      rows =
          days.isEmpty()
              ? List.of()
              : usage.idleAccounts(
                  on.application(), now.minus(Duration.ofDays(days.get())), after, BATCH);
      var batch = rows;
      begun += batch.isEmpty() ? 0 : transactions.run(() -> idle(playbook, batch));
      after = rows.isEmpty() ? after : rows.getLast().accountId();
    } while (rows.size() == BATCH);
    lookedForIdle.put(playbook.key(), hour);
    return begun;
  }

  /** Once for each time that somebody stopped using it. */
  private int idle(Playbook playbook, List<IdleRow> batch) {
    var rows = rows(batch.stream().map(IdleRow::personId).distinct().toList());
    var wanted = new ArrayList<Wanted>();
    for (var each : batch) {
      var row = rows.get(each.personId());
      if (row != null) {
        wanted(
                playbook,
                row,
                today(),
                "idle:%s:%d:%d"
                    .formatted(playbook.key(), each.accountId(), each.since().getEpochSecond()))
            .ifPresent(wanted::add);
      }
    }
    return beginnings.begin(wanted);
  }

  /** Finds grants that turned between two moments, after one. */
  private interface Turns {
    List<Turned> between(Instant from, Instant now, long after);
  }

  private int sinceLast(Playbook playbook, Trigger on, Turns turns) {
    var now = clock.instant();
    var first = runs.looked(playbook.key());
    var from = first == null ? now : first.minus(OVERLAP);
    var begun = 0;
    var after = 0L;
    List<Turned> turned;
    do {
      turned = turns.between(from, now, after);
      var batch = turned;
      begun += batch.isEmpty() ? 0 : transactions.run(() -> turned(playbook, on, batch));
      after = turned.isEmpty() ? after : turned.getLast().id();
    } while (turned.size() == BATCH);
    transactions.run(() -> runs.look(playbook.key(), now));
    return begun;
  }

  private int turned(Playbook playbook, Trigger on, List<Turned> turned) {
    var rows = rows(turned.stream().map(Turned::personId).distinct().toList());
    var zone = catalogues.current().zone();
    var wanted = new ArrayList<Wanted>();
    for (var grant : turned) {
      var row = rows.get(grant.personId());
      if (row != null) {
        wanted(
                playbook,
                row,
                grant.at().atZone(zone).toLocalDate(),
                "grant:%s:%d:%s".formatted(playbook.key(), grant.id(), on.word()))
            .ifPresent(wanted::add);
      }
    }
    return beginnings.begin(wanted);
  }

  private Map<Long, PersonRow> rows(List<Long> ids) {
    return people.byIds(ids).stream().collect(Collectors.toMap(PersonRow::id, row -> row));
  }

  private Optional<Wanted> wanted(Playbook playbook, PersonRow row, LocalDate day, String key) {
    var catalogue = catalogues.current();
    var person = FactsJson.person(row, catalogue.facts());
    return Beginnings.isFor(playbook, person, catalogue)
        ? Optional.of(new Wanted(playbook, row, person, null, day, key, "glenmoor"))
        : Optional.empty();
  }

  private int scheduled(Map<String, Playbook> playbooks) {
    var wanted = new TreeMap<String, Schedule>();
    playbooks.forEach((key, playbook) -> {
      if (playbook.on() instanceof Trigger.OnSchedule on) {
        wanted.put(key, on.at());
      }
    });
    var due = new ArrayList<String>();
    schedules.due("playbook", wanted, due::add);
    var begun = 0;
    for (var key : due) {
      begun += everybody(Objects.requireNonNull(playbooks.get(key)));
    }
    return begun;
  }

  private int everybody(Playbook playbook) {
    var day = today();
    var stamp = clock.instant().getEpochSecond() / 60;
    var begun = 0;
    var after = 0L;
    List<Long> ids;
    do {
      ids = people.idsAfter(after, BATCH);
      var batch = ids;
      begun +=
          batch.isEmpty()
              ? 0
              : transactions.run(() ->
                  beginnings.begin(
                      rows(batch).values().stream()
                          .flatMap(row ->
                              wanted(
                                  playbook,
                                  row,
                                  day,
                                  "at:%s:%d:%d".formatted(playbook.key(), stamp, row.id()))
                                  .stream())
                          .toList()));
      after = ids.isEmpty() ? after : ids.getLast();
    } while (ids.size() == BATCH);
    return begun;
  }
}
