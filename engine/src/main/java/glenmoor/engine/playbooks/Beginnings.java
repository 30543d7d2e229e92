package glenmoor.engine.playbooks;

import glenmoor.core.access.Catalogue;
import glenmoor.core.brakes.BrakeKind;
import glenmoor.core.brakes.Brakes;
import glenmoor.core.brakes.Brakes.Measure;
import glenmoor.core.brakes.Brakes.Measured;
import glenmoor.core.conditions.Unanswerable;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.lifecycle.EventKind;
import glenmoor.core.people.Person;
import glenmoor.core.playbooks.Playbook;
import glenmoor.core.playbooks.PlaybookKind;
import glenmoor.core.playbooks.RunState;
import glenmoor.core.playbooks.Step;
import glenmoor.core.playbooks.Trigger;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.store.Bulk;
import glenmoor.store.Ids;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.playbooks.PlaybookRunMapper;
import glenmoor.store.playbooks.PlaybookRunMapper.RunRow;
import glenmoor.store.playbooks.PlaybookRunMapper.StepRow;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Writes the beginnings of runs, a batch at a time, inside the caller's transaction. */
@Named
final class Beginnings {
  private static final Logger LOG = LoggerFactory.getLogger(Beginnings.class);

  /**
   * A run that may begin.
   *
   * @param event what it follows from; null for none
   * @param day the day it is about
   * @param onceKey a run with the same key begins once
   */
  record Wanted(
      Playbook playbook,
      PersonRow row,
      Person person,
      @Nullable Long event,
      LocalDate day,
      String onceKey,
      String by) {}

  private final PlaybookRunMapper runs;
  private final PersonMapper people;
  private final Catalogues catalogues;
  private final BrakedRuns braked;
  private final Bulk bulk;
  private final Ledger ledger;
  private final Ids ids;
  private final Clock clock;

  Beginnings(
      PlaybookRunMapper runs,
      PersonMapper people,
      Catalogues catalogues,
      BrakedRuns braked,
      Bulk bulk,
      Ledger ledger,
      Ids ids,
      Clock clock) {
    this.runs = runs;
    this.people = people;
    this.catalogues = catalogues;
    this.braked = braked;
    this.bulk = bulk;
    this.ledger = ledger;
    this.ids = ids;
    this.clock = clock;
  }

  /** The playbooks that are defined. */
  Collection<Playbook> playbooks() {
    return catalogues.current().defined().all(PlaybookKind.class).values();
  }

  /** Whether a playbook is for somebody; a condition that fails is not met, and the log says so. */
  static boolean isFor(Playbook playbook, Person person, Catalogue catalogue) {
    try {
      return playbook.where().isEmpty()
          || playbook.where().get().holds(catalogue.expressions().view(person));
    } catch (Unanswerable failed) {
      LOG.warn(
          "Playbook {} cannot tell whether it is for {}: {}",
          playbook.key(),
          person.worker(),
          failed.getMessage());
      return false;
    }
  }

  /** Begins those that did not begin before. */
  int begin(List<Wanted> wanted) {
    if (wanted.isEmpty()) {
      return 0;
    }
    var known = new HashSet<>(runs.begun(wanted.stream().map(Wanted::onceKey).toList()));
    var rows = new ArrayList<RunRow>();
    var steps = new ArrayList<StepRow>();
    var entries = new ArrayList<LedgerEntry>();
    var now = clock.instant();
    var fresh = wanted.stream().filter(each -> known.add(each.onceKey())).toList();
    var brakes = brakes(fresh, now);
    for (var each : fresh) {
      var row = row(each, brakes.getOrDefault(each.playbook().key(), ""), now);
      rows.add(row);
      number(row.id(), each.playbook().steps(), steps);
      entries.add(entry(each, row, now));
    }
    bulk.insert("playbook_run", rows);
    bulk.insert("playbook_step", steps);
    ledger.append(entries);
    return rows.size();
  }

  /**
   * Which playbooks would be played for too many within a day: their runs begin held, and go on
   * once somebody has looked at them.
   */
  private Map<String, String> brakes(List<Wanted> wanted, Instant now) {
    var reasons = new HashMap<String, String>();
    var byPlaybook = wanted.stream().collect(Collectors.groupingBy(each -> each.playbook().key()));
    byPlaybook.forEach((playbook, begin) -> {
      // A handful is let pass whatever share it is; whom there are need not be counted for it.
      var played = runs.begunSince(playbook, now.minus(Duration.ofDays(1))) + begin.size();
      if (played > Brakes.HANDFUL) {
        var measured = new Measured(Map.of(Measure.PLAYED, played), people.countAll());
        BrakeKind.on("playbooks", catalogues.current().defined()).hold(measured, Map.of()).stream()
            .findFirst()
            .ifPresent(sentence -> {
              reasons.put(playbook, BrakedRuns.REASON + sentence + ".");
              braked.hold(begin.getFirst().playbook(), sentence + ".", measured, held(begin));
            });
      }
    });
    return reasons;
  }

  private static List<BrakedRuns.HeldRun> held(List<Wanted> begin) {
    return begin.stream()
        .map(each ->
            new BrakedRuns.HeldRun(each.row().workerNumber(), each.row().name(), each.day()))
        .toList();
  }

  private RunRow row(Wanted wanted, String brake, Instant now) {
    var state =
        (RunState.Open)
            RunState.begin(
                wanted.playbook().steps().stream().map(Step::timing).toList(),
                wanted.day(),
                catalogues.current().zone(),
                now);
    return new RunRow(
        ids.next(),
        wanted.playbook().key(),
        wanted.playbook().name(),
        wanted.playbook().on().word(),
        wanted.row().id(),
        wanted.event(),
        wanted.day(),
        brake.isEmpty() ? "open" : "held",
        0,
        state.reached(),
        state.due(),
        0,
        brake,
        null,
        null,
        now,
        wanted.by(),
        null,
        1,
        wanted.onceKey());
  }

  private static void number(long run, List<Step> said, List<StepRow> steps) {
    for (var number = 0; number < said.size(); number++) {
      steps.add(
          new StepRow(
              run,
              number,
              KeptSteps.write(said.get(number).said()),
              RunState.StepState.OPEN.word(),
              "",
              null,
              "",
              ""));
    }
  }

  private static LedgerEntry entry(Wanted wanted, RunRow row, Instant now) {
    return new LedgerEntry(
        now,
        wanted.by(),
        wanted.event() == null ? "run:" + row.id() : "event:" + wanted.event(),
        "person:" + wanted.row().workerNumber(),
        "playbook-began",
        Map.of(),
        Map.of(
            "playbook", wanted.playbook().key(),
            "run", String.valueOf(row.id()),
            "day", wanted.day().toString()));
  }

  /** The kind of event that a playbook begins on; null for another trigger. */
  static @Nullable EventKind event(Playbook playbook) {
    return playbook.on() instanceof Trigger.OnEvent on ? on.kind() : null;
  }

  /** Whether the day of it comes by itself. */
  static boolean dated(@Nullable EventKind kind) {
    return switch (kind) {
      case null -> false;
      case JOINER, LEAVER, LEAVE_BEGINS, LEAVE_ENDS -> true;
      case MOVER, REHIRE, CORRECTION, START_MOVED, NO_SHOW -> false;
    };
  }

  /** A run of a playbook that is still there for a person. */
  static boolean isOf(RunRow run, Playbook playbook, long person) {
    return run.playbook().equals(playbook.key())
        && Objects.equals(run.personId(), person)
        && run.beganOn().equals(playbook.on().word());
  }
}
