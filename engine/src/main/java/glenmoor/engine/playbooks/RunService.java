package glenmoor.engine.playbooks;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.playbooks.RunSearch;
import glenmoor.core.playbooks.RunState;
import glenmoor.core.playbooks.RunState.StepState;
import glenmoor.core.playbooks.RunView;
import glenmoor.core.playbooks.Trigger;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.StatedReason;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.letters.Outbox;
import glenmoor.engine.people.Visible;
import glenmoor.engine.playbooks.Beginnings.Wanted;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Ids;
import glenmoor.store.people.FactsJson;
import glenmoor.store.playbooks.AskMapper;
import glenmoor.store.playbooks.PlaybookRunMapper;
import glenmoor.store.playbooks.PlaybookRunMapper.RunRow;
import glenmoor.store.playbooks.PlaybookRunMapper.StepRow;
import jakarta.inject.Named;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** What people decide on playbooks and their runs. */
@Named
public final class RunService {
  private static final int MOST_AT_ONCE = 200;

  /** Those for whom a run began, and why none began for the others. */
  public record Begun(List<Long> runs, List<String> left) {}

  private final PlaybookRunMapper runs;
  private final RunViews views;
  private final Beginnings beginnings;
  private final BrakedRuns braked;
  private final KeptSteps kept;
  private final RunEnds ends;
  private final Outbox outbox;
  private final AskMapper asks;
  private final Visible visible;
  private final Catalogues catalogues;
  private final Ledger ledger;
  private final Transactions transactions;
  private final Ids ids;
  private final Clock clock;

  RunService(
      PlaybookRunMapper runs,
      RunViews views,
      Beginnings beginnings,
      BrakedRuns braked,
      KeptSteps kept,
      RunEnds ends,
      Outbox outbox,
      AskMapper asks,
      Visible visible,
      Catalogues catalogues,
      Ledger ledger,
      Transactions transactions,
      Ids ids,
      Clock clock) {
    this.runs = runs;
    this.views = views;
    this.beginnings = beginnings;
    this.braked = braked;
    this.kept = kept;
    this.ends = ends;
    this.outbox = outbox;
    this.asks = asks;
    this.visible = visible;
    this.catalogues = catalogues;
    this.ledger = ledger;
    this.transactions = transactions;
    this.ids = ids;
    this.clock = clock;
  }

  /**
   * Plays a playbook for people that somebody chose.
   *
   * @param day the day it is about; null for today
   * @throws Refused if it does not begin on demand
   */
  public Begun play(
      String key, List<String> workers, @Nullable LocalDate day, String why, Actor actor) {
    Authorization.need(actor, Permission.PLAY_PLAYBOOKS);
    var reason = new StatedReason(why).text().strip();
    var playbook = views.playbook(key, actor).playbook();
    if (!(playbook.on() instanceof Trigger.OnDemand)) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "“%s” begins on %s, not on demand.".formatted(playbook.name(), playbook.on().word()));
    }
    if (workers.isEmpty() || workers.size() > MOST_AT_ONCE) {
      throw Refused.badInput(
          "Say for whom: at least one person, at most %,d at once.".formatted(MOST_AT_ONCE));
    }
    var catalogue = catalogues.current();
    var about = day == null ? clock.instant().atZone(catalogue.zone()).toLocalDate() : day;
    var wanted = new ArrayList<Wanted>();
    var left = new ArrayList<String>();
    var stamp = ids.next();
    for (var worker : workers.stream().distinct().toList()) {
      var row = visible.row(worker, actor);
      var person = FactsJson.person(row, catalogue.facts());
      if (Beginnings.isFor(playbook, person, catalogue)) {
        wanted.add(
            new Wanted(
                playbook,
                row,
                person,
                null,
                about,
                "demand:%s:%d:%d".formatted(playbook.key(), stamp, row.id()),
                actor.login()));
      } else {
        left.add("%s: the playbook is not for them.".formatted(row.name()));
      }
    }
    transactions.run(() -> {
      beginnings.begin(wanted);
      ledger.append(
          new LedgerEntry(
              clock.instant(),
              actor.login(),
              "",
              "playbook:" + playbook.key(),
              "playbook-played",
              Map.of(),
              Map.of("people", wanted.size(), "reason", reason)));
    });
    return new Begun(
        runs.list(new RunSearch(key, null, "unfinished", Long.MAX_VALUE, MOST_AT_ONCE)).stream()
            .map(RunView::id)
            .filter(id -> id > stamp)
            .toList(),
        left);
  }

  /** Keeps a run from going on. */
  public RunViews.Shown hold(long id, String why, Actor actor) {
    var reason = decided(why, actor);
    return change(
        id,
        "playbook-held",
        reason,
        actor,
        run ->
            RunRows.state(run) instanceof RunState.Open open
                ? new RunState.Held(open, reason)
                : refuse(run, "hold"));
  }

  /** Lets a run go on that was held. */
  public RunViews.Shown release(long id, String why, Actor actor) {
    var reason = decided(why, actor);
    return change(
        id,
        "playbook-released",
        reason,
        actor,
        run ->
            RunRows.state(run) instanceof RunState.Held held
                ? held.before()
                : refuse(run, "release"));
  }

  /**
   * Lets all runs of a playbook go on that the brake holds.
   *
   * @return how many
   */
  public int releaseBraked(String playbook, String why, Actor actor) {
    return braked.release(playbook, decided(why, actor), actor);
  }

  /** Tries the step again at which a run stopped. */
  public RunViews.Shown again(long id, String why, Actor actor) {
    var reason = decided(why, actor);
    return change(
        id,
        "playbook-again",
        reason,
        actor,
        run ->
            RunRows.state(run) instanceof RunState.Stopped stopped
                ? reached(run, stopped.step())
                : refuse(run, "try again"));
  }

  /** Leaves out the next step of a run. */
  public RunViews.Shown skip(long id, String why, Actor actor) {
    var reason = decided(why, actor);
    return change(
        id,
        "playbook-skipped",
        reason,
        actor,
        run ->
            switch (RunRows.state(run)) {
              case RunState.Open open -> skipped(run, open.step(), reason, actor);
              case RunState.Held held -> skipped(run, held.before().step(), reason, actor);
              case RunState.Stopped stopped -> skipped(run, stopped.step(), reason, actor);
              case RunState.Done done -> refuse(run, "skip a step of");
              case RunState.Ended ended -> refuse(run, "skip a step of");
            });
  }

  /**
   * Goes back to a step of a run that is not over, and on from there.
   *
   * @param number of the step, from 1
   */
  public RunViews.Shown restart(long id, int number, String why, Actor actor) {
    var reason = decided(why, actor);
    return change(
        id,
        "playbook-restarted",
        reason,
        actor,
        run -> {
          var all = kept.of(List.of(id)).getOrDefault(id, List.of());
          if (run.state().equals("done") || run.state().equals("ended")) {
            return refuse(run, "restart");
          }
          if (number < 1 || number > run.step() + 1) {
            throw Refused.badInput(
                "The run has come to step %d; say a number from 1 to that."
                    .formatted(run.step() + 1));
          }
          for (var step : all.subList(number - 1, all.size())) {
            runs.updateStep(cleared(step.row()));
          }
          return reached(run, number - 1);
        });
  }

  private static StepRow cleared(StepRow step) {
    return new StepRow(
        step.runId(), step.number(), step.said(), StepState.OPEN.word(), "", null, "", "");
  }

  /** Ends a run before all of its steps are done. */
  public RunViews.Shown end(long id, String why, Actor actor) {
    var reason = decided(why, actor);
    transactions.run(() -> {
      var run = locked(id);
      if (run.state().equals("done") || run.state().equals("ended")) {
        throw refused(run, "end");
      }
      ends.end(run, reason, actor.login());
    });
    return views.show(id, actor);
  }

  private static String decided(String why, Actor actor) {
    Authorization.need(actor, Permission.PLAY_PLAYBOOKS);
    return new StatedReason(why).text().strip();
  }

  private RunState reached(RunRow run, int step) {
    var timings =
        kept.of(List.of(run.id())).getOrDefault(run.id(), List.of()).stream()
            .map(KeptSteps.Kept::timing)
            .toList();
    if (step == timings.size()) {
      return new RunState.Done(clock.instant());
    }
    return RunState.redated(
        new RunState.Open(step, clock.instant(), clock.instant(), 0),
        timings,
        run.day(),
        catalogues.current().zone());
  }

  private RunState skipped(RunRow run, int step, String reason, Actor actor) {
    outbox.drop("run:%d:%d:".formatted(run.id(), step), "Its step was skipped.");
    asks.drop(run.id(), clock.instant());
    kept.of(List.of(run.id())).getOrDefault(run.id(), List.of()).stream()
        .map(KeptSteps.Kept::row)
        .filter(row -> row.number() == step)
        .forEach(row ->
            runs.updateStep(
                new StepRow(
                    row.runId(),
                    row.number(),
                    row.said(),
                    StepState.LEFT_OUT.word(),
                    reason,
                    clock.instant(),
                    actor.login(),
                    row.reference())));
    return reached(run, step + 1);
  }

  private RunViews.Shown change(
      long id, String what, String reason, Actor actor, Function<RunRow, RunState> change) {
    transactions.run(() -> {
      var run = locked(id);
      var after = change.apply(run);
      runs.update(RunRows.with(run, after, run.day(), null));
      ledger.append(
          new LedgerEntry(
              clock.instant(),
              actor.login(),
              "",
              "run:" + id,
              what,
              Map.of("state", run.state(), "step", String.valueOf(run.step() + 1)),
              Map.of("playbook", run.playbook(), "reason", reason)));
    });
    return views.show(id, actor);
  }

  private RunRow locked(long id) {
    var run = runs.lock(id);
    if (run == null) {
      throw RunViews.noRun(id);
    }
    return run;
  }

  private static RunState refuse(RunRow run, String what) {
    throw refused(run, what);
  }

  private static Refused refused(RunRow run, String what) {
    return new Refused(
        Refused.Reason.NOT_NOW, "Nobody can %s this run: it is %s.".formatted(what, run.state()));
  }
}
