package glenmoor.engine.playbooks;

import glenmoor.core.conditions.Unanswerable;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.lifecycle.EventKind;
import glenmoor.core.people.Person;
import glenmoor.core.playbooks.RunDay;
import glenmoor.core.playbooks.RunState;
import glenmoor.core.playbooks.RunState.Outcome;
import glenmoor.core.playbooks.RunState.StepState;
import glenmoor.core.playbooks.Step;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.letters.Outbox;
import glenmoor.engine.playbooks.KeptSteps.Kept;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.playbooks.PlaybookRunMapper;
import glenmoor.store.playbooks.PlaybookRunMapper.RunRow;
import glenmoor.store.playbooks.PlaybookRunMapper.StepRow;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Carries out the steps that are due, in time order, a batch of runs in a transaction: what a step
 * does is written with what is noted of it. What goes outside goes by the outbox. One run that
 * fails stands alone, and the others go on.
 */
@Named
final class StepsDue {
  private static final Logger LOG = LoggerFactory.getLogger(StepsDue.class);
  private static final int BATCH = 50;
  private static final int LONGEST = 1_000;

  private final PlaybookRunMapper runs;
  private final PersonMapper people;
  private final KeptSteps kept;
  private final Steps steps;
  private final RunEnds ends;
  private final Outbox outbox;
  private final Catalogues catalogues;
  private final Ledger ledger;
  private final Transactions transactions;
  private final Clock clock;

  StepsDue(
      PlaybookRunMapper runs,
      PersonMapper people,
      KeptSteps kept,
      Steps steps,
      RunEnds ends,
      Outbox outbox,
      Catalogues catalogues,
      Ledger ledger,
      Transactions transactions,
      Clock clock) {
    this.runs = runs;
    this.people = people;
    this.kept = kept;
    this.steps = steps;
    this.ends = ends;
    this.outbox = outbox;
    this.catalogues = catalogues;
    this.ledger = ledger;
    this.transactions = transactions;
    this.clock = clock;
  }

  /**
   * Carries out all that is due now.
   *
   * @return how many steps were tried
   */
  int carryOut() {
    var tried = 0;
    int batch;
    do {
      batch = batch();
      tried += batch;
    } while (batch > 0 && runs.ready(clock.instant(), 1) > 0);
    return tried;
  }

  private int batch() {
    var taken = new ArrayList<RunRow>();
    try {
      return transactions.run(() -> {
        taken.clear();
        taken.addAll(runs.due(clock.instant(), BATCH));
        all(taken);
        return taken.size();
      });
    } catch (RuntimeException failed) {
      if (taken.size() <= 1) {
        throw failed;
      }
      LOG.warn("A batch of {} runs failed and is done one by one", taken.size(), failed);
      taken.forEach(this::alone);
      return taken.size();
    }
  }

  private void alone(RunRow row) {
    try {
      transactions.run(() -> {
        var run = runs.lock(row.id());
        if (run != null && run.state().equals("open")) {
          all(List.of(run));
        }
      });
    } catch (RuntimeException failed) {
      LOG.error("Run {} could not be carried out", row.id(), failed);
      transactions.run(() -> stop(row.id()));
    }
  }

  /** What fails in a way nobody thought of stops, and is shown, instead of being tried for ever. */
  private void stop(long id) {
    var run = runs.lock(id);
    if (run != null && run.state().equals("open")) {
      runs.update(
          RunRows.with(
              run,
              new RunState.Stopped(
                  run.step(), run.reachedAt(), "The step failed; the service's log says why."),
              run.day(),
              null));
    }
  }

  private void all(List<RunRow> due) {
    if (due.isEmpty()) {
      return;
    }
    var rows =
        people.byIds(due.stream().map(RunRow::personId).distinct().toList()).stream()
            .collect(Collectors.toMap(PersonRow::id, row -> row));
    var stepsOf = kept.of(due.stream().map(RunRow::id).toList());
    for (var run : due) {
      var row = rows.get(run.personId());
      if (row != null) {
        one(run, row, stepsOf.getOrDefault(run.id(), List.of()));
      }
    }
  }

  private void one(RunRow run, PersonRow row, List<Kept> all) {
    var now = clock.instant();
    var zone = catalogues.current().zone();
    var about = outbox.about(row);
    var over = over(run, about.person());
    if (over.isPresent()) {
      ends.end(run, over.get(), "glenmoor");
      return;
    }
    var next = all.get(run.step());
    var open = (RunState.Open) RunRows.state(run);
    var timings = all.stream().map(Kept::timing).toList();
    var context =
        new StepContext(
            run,
            next.row(),
            all.stream().map(Kept::row).toList(),
            about,
            RunState.begins(open, timings, run.day(), zone),
            now,
            zone);
    var did = did(next, context);
    var moved = RunState.after(open, did.outcome(), timings, run.day(), zone, now);
    var step = next.row();
    var settled = moved.step() != StepState.OPEN;
    runs.updateStep(
        new StepRow(
            run.id(),
            step.number(),
            step.said(),
            moved.step().word(),
            cut(moved.what()),
            settled ? now : null,
            settled ? "glenmoor" : "",
            did.reference() == null ? step.reference() : did.reference()));
    runs.update(RunRows.with(run, moved.state(), run.day(), did.awaits()));
    if (settled) {
      ledger.append(entry(run, step, moved, row, now));
    }
  }

  /** An event's run whose person's facts say otherwise by now does nothing more. */
  private Optional<String> over(RunRow run, Person person) {
    EventKind kind = EventsPlayed.kind(run.beganOn());
    return kind != null
            && RunDay.of(
                    kind,
                    run.day(),
                    person,
                    clock.instant().atZone(catalogues.current().zone()).toLocalDate())
                instanceof RunDay.Over over
        ? Optional.of(over.reason())
        : Optional.empty();
  }

  private Did did(Kept next, StepContext context) {
    if (next.step().isEmpty()) {
      return Did.failed("The step cannot be carried out any more: " + next.problem());
    }
    Step step = next.step().get();
    if (step.tooLate(context.run().day(), context.zone(), context.now())) {
      return Did.of(new Outcome.LeftOut("It came too late for it"));
    }
    try {
      if (step.where().isPresent()
          && !step.where()
              .get()
              .holds(catalogues.current().expressions().view(context.about().person()))) {
        return Did.of(new Outcome.LeftOut("It is not for them"));
      }
    } catch (Unanswerable failed) {
      return Did.failed("Whether it is for them cannot be told: " + failed.getMessage());
    }
    return steps.carryOut(step.action(), context);
  }

  private static LedgerEntry entry(
      RunRow run, StepRow step, RunState.Moved moved, PersonRow row, Instant now) {
    return new LedgerEntry(
        now,
        "glenmoor",
        "run:" + run.id(),
        "person:" + row.workerNumber(),
        "playbook-step",
        Map.of(),
        Map.of(
            "playbook", run.playbook(),
            "step", String.valueOf(step.number() + 1),
            "state", moved.step().word(),
            "what", cut(moved.what())));
  }

  private static String cut(String text) {
    return text.length() <= LONGEST ? text : text.substring(0, LONGEST);
  }
}
