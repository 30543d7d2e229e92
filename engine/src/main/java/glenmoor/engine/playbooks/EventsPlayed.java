package glenmoor.engine.playbooks;

import glenmoor.core.access.Catalogue;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.lifecycle.EventKind;
import glenmoor.core.people.Person;
import glenmoor.core.playbooks.Playbook;
import glenmoor.core.playbooks.RunDay;
import glenmoor.core.playbooks.RunState;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.playbooks.Beginnings.Wanted;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.playbooks.PlaybookRunMapper;
import glenmoor.store.playbooks.PlaybookRunMapper.CameBack;
import glenmoor.store.playbooks.PlaybookRunMapper.Earlier;
import glenmoor.store.playbooks.PlaybookRunMapper.RunRow;
import glenmoor.store.playbooks.PlaybookRunMapper.Unplayed;
import glenmoor.store.provisioning.AccountOrderMapper;
import jakarta.inject.Named;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Looks each event through once: runs that make no sense any more are over, those that are about
 * another day now are moved, and playbooks for it begin.
 */
@Named
final class EventsPlayed {
  private static final int BATCH = 500;

  private final PlaybookRunMapper runs;
  private final PersonMapper people;
  private final AccountOrderMapper orders;
  private final Beginnings beginnings;
  private final RunEnds ends;
  private final KeptSteps kept;
  private final Catalogues catalogues;
  private final Ledger ledger;
  private final Transactions transactions;
  private final Clock clock;

  EventsPlayed(
      PlaybookRunMapper runs,
      PersonMapper people,
      AccountOrderMapper orders,
      Beginnings beginnings,
      RunEnds ends,
      KeptSteps kept,
      Catalogues catalogues,
      Ledger ledger,
      Transactions transactions,
      Clock clock) {
    this.runs = runs;
    this.people = people;
    this.orders = orders;
    this.beginnings = beginnings;
    this.ends = ends;
    this.kept = kept;
    this.catalogues = catalogues;
    this.ledger = ledger;
    this.transactions = transactions;
    this.clock = clock;
  }

  /** Whether there are events that were not looked through. */
  boolean waiting() {
    return !beginnings.playbooks().isEmpty() && transactions.run(() -> !runs.unplayed(1).isEmpty());
  }

  /**
   * Looks through all events that wait, a batch in a transaction of its own.
   *
   * @return how many runs began
   */
  int play() {
    if (beginnings.playbooks().isEmpty()) {
      return 0;
    }
    var begun = 0;
    Batch batch;
    do {
      batch = transactions.run(this::batch);
      begun += batch.begun();
    } while (batch.events() == BATCH);
    return begun;
  }

  private record Batch(int events, int begun) {}

  private Batch batch() {
    var events = runs.unplayed(BATCH);
    if (events.isEmpty()) {
      return new Batch(0, 0);
    }
    var about = events.stream().map(Unplayed::personId).distinct().toList();
    var rows = people.lock(about).stream().collect(Collectors.toMap(PersonRow::id, row -> row));
    var back =
        events.stream()
            .filter(event -> event.kind().equals(EventKind.REHIRE.word()))
            .map(Unplayed::personId)
            .toList();
    if (!back.isEmpty()) {
      orders.endAll(back, clock.instant());
      people.dueFor(back, clock.instant(), "rehire");
    }
    var unfinished = lookedAt(rows);
    var begun = beginnings.begin(wanted(events, rows, unfinished));
    runs.played(events.stream().map(Unplayed::id).toList(), clock.instant());
    return new Batch(events.size(), begun);
  }

  /** The runs that go on, after each was looked at with its person's facts as they are now. */
  private List<RunRow> lookedAt(Map<Long, PersonRow> rows) {
    var catalogue = catalogues.current();
    var today = today();
    var going = new ArrayList<RunRow>();
    for (var run : runs.unfinishedOf(rows.keySet())) {
      var row = rows.get(run.personId());
      if (row != null) {
        lookedAt(run, FactsJson.person(row, catalogue.facts()), today).ifPresent(going::add);
      }
    }
    return going;
  }

  private Optional<RunRow> lookedAt(RunRow run, Person person, LocalDate today) {
    var kind = kind(run.beganOn());
    if (kind == null) {
      return Optional.of(run);
    }
    return switch (RunDay.of(kind, run.day(), person, today)) {
      case RunDay.Stays stays -> Optional.of(run);
      case RunDay.Over over -> {
        ends.end(run, over.reason(), "glenmoor");
        yield Optional.empty();
      }
      case RunDay.Moves moves -> {
        var moved = RunRows.with(run, redated(run, moves.day()), moves.day(), null);
        runs.update(moved);
        ledger.append(
            new LedgerEntry(
                clock.instant(),
                "glenmoor",
                "run:" + run.id(),
                "person:" + person.worker(),
                "playbook-moved",
                Map.of("day", run.day().toString()),
                Map.of("day", moves.day().toString(), "playbook", run.playbook())));
        yield Optional.of(moved);
      }
    };
  }

  private RunState redated(RunRow run, LocalDate day) {
    var steps =
        kept.of(List.of(run.id())).getOrDefault(run.id(), List.of()).stream()
            .map(KeptSteps.Kept::timing)
            .toList();
    return RunState.redated(RunRows.state(run), steps, day, catalogues.current().zone());
  }

  private List<Wanted> wanted(
      List<Unplayed> events, Map<Long, PersonRow> rows, List<RunRow> unfinished) {
    var catalogue = catalogues.current();
    var before = new Before(rows.keySet());
    var wanted = new ArrayList<Wanted>();
    for (var event : events) {
      var row = rows.get(event.personId());
      if (row == null) {
        continue;
      }
      var person = FactsJson.person(row, catalogue.facts());
      for (var playbook : beginnings.playbooks()) {
        var kind = Beginnings.event(playbook);
        if (kind != null
            && kind.word().equals(event.kind())
            && begins(playbook, kind, event, person, unfinished, before, catalogue)) {
          wanted.add(
              new Wanted(
                  playbook,
                  row,
                  person,
                  event.id(),
                  event.effectiveOn(),
                  "event:%s:%d".formatted(playbook.key(), event.id()),
                  "glenmoor"));
        }
      }
    }
    return once(wanted);
  }

  /** Of several events of one kind that came together, the last one counts. */
  private static List<Wanted> once(List<Wanted> wanted) {
    var last = new HashMap<String, Wanted>();
    for (var each : wanted) {
      var kind = Beginnings.event(each.playbook());
      var key =
          Beginnings.dated(kind) ? each.playbook().key() + ":" + each.row().id() : each.onceKey();
      last.put(key, each);
    }
    return List.copyOf(last.values());
  }

  private boolean begins(
      Playbook playbook,
      EventKind kind,
      Unplayed event,
      Person person,
      List<RunRow> unfinished,
      Before before,
      Catalogue catalogue) {
    if (!Beginnings.isFor(playbook, person, catalogue)) {
      return false;
    }
    var happened = RunDay.comes(kind, person).orElse(event.effectiveOn());
    if (happened.isBefore(today().minusDays(playbook.lateDays()))) {
      return false;
    }
    if (!Beginnings.dated(kind)) {
      return true;
    }
    return unfinished.stream().noneMatch(run -> Beginnings.isOf(run, playbook, person.id().value()))
        && !before.did(playbook, kind, person.id().value(), event.effectiveOn());
  }

  private LocalDate today() {
    return clock.instant().atZone(catalogues.current().zone()).toLocalDate();
  }

  static @Nullable EventKind kind(String beganOn) {
    return switch (beganOn) {
      case "demand", "schedule", "grant-begins", "grant-ends", "last-grant-ends", "idle" -> null;
      default -> EventKind.ofWord(beganOn);
    };
  }

  /** What was played for some people before. */
  final class Before {
    private final Map<Long, List<Earlier>> earlier;
    private final Map<Long, CameBack> cameBack = new HashMap<>();

    Before(Collection<Long> about) {
      earlier =
          about.isEmpty()
              ? Map.of()
              : runs.earlier(about).stream().collect(Collectors.groupingBy(Earlier::personId));
      if (!about.isEmpty()) {
        runs.cameBack(about).forEach(row -> cameBack.put(row.personId(), row));
      }
    }

    /**
     * Whether it was played for this already: a last day that is corrected after it has come is no
     * second leaving, and the first day of somebody who came back is no joiner's.
     */
    boolean did(Playbook playbook, EventKind kind, long person, LocalDate day) {
      var came = cameBack.get(person);
      if (kind == EventKind.JOINER && came != null && came.again()) {
        return true;
      }
      var back = came == null ? Instant.EPOCH : came.at();
      return earlier.getOrDefault(person, List.of()).stream()
          .filter(run -> run.playbook().equals(playbook.key()))
          .anyMatch(run ->
              run.day().equals(day) || kind == EventKind.LEAVER && !run.beganAt().isBefore(back));
    }
  }

  /** What was played for these people before, to be asked by others. */
  Before before(Collection<Long> about) {
    return new Before(about);
  }
}
