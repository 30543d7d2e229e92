package glenmoor.server.playbooks;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.playbooks.RunView;
import glenmoor.engine.playbooks.RunService;
import glenmoor.engine.playbooks.RunViews;
import glenmoor.server.Lists;
import glenmoor.server.authorization.Needs;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Runs of playbooks, and what people decide on them. */
@RestController
@RequestMapping("/api/v1/runs")
class RunsApi {
  /** Why; it is kept. */
  record RunReason(@NotNull String reason) {}

  /**
   * From which step on.
   *
   * @param step its number, from 1
   */
  record RunRestart(int step, @NotNull String reason) {}

  /**
   * A run in a list.
   *
   * @param day the day it is about
   * @param state open, held, stopped, done or ended
   * @param step the number of the next step, from 1
   * @param reason why it is held, stopped or ended
   */
  record RunListed(
      String id,
      String playbook,
      String name,
      String beganOn,
      String worker,
      String person,
      LocalDate day,
      String state,
      int step,
      int steps,
      @Nullable Instant dueAt,
      String reason,
      Instant beganAt,
      String beganBy,
      @Nullable Instant endedAt) {
    static RunListed of(RunView run) {
      return new RunListed(
          String.valueOf(run.id()),
          run.playbook(),
          run.name(),
          run.beganOn(),
          run.worker(),
          run.person(),
          run.day(),
          run.state(),
          Math.min(run.step() + 1, run.steps()),
          run.steps(),
          run.dueAt(),
          run.reason(),
          run.beganAt(),
          run.beganBy(),
          run.endedAt());
    }
  }

  /**
   * A step of a run.
   *
   * @param state open, done, left-out or failed
   * @param what what it did, or what it waits for
   * @param due when it is due, as far as that can be told
   */
  record RunStepShown(
      int number,
      StepSaid said,
      String state,
      String what,
      @Nullable Instant due,
      @Nullable Instant settledAt,
      String settledBy) {
    static RunStepShown of(RunViews.StepShown step) {
      return new RunStepShown(
          step.step().number() + 1,
          StepSaid.of(step.said()),
          step.step().state(),
          step.step().what(),
          step.due(),
          step.step().settledAt(),
          step.step().settledBy());
    }
  }

  /** A run with its steps. */
  record RunShown(RunListed run, List<RunStepShown> steps) {
    static RunShown of(RunViews.Shown shown) {
      return new RunShown(
          RunListed.of(shown.run()), shown.steps().stream().map(RunStepShown::of).toList());
    }
  }

  private final RunService runs;
  private final RunViews views;

  RunsApi(RunService runs, RunViews views) {
    this.runs = runs;
    this.views = views;
  }

  /** Runs, the last one first. */
  @Needs(Permission.SEE_PLAYBOOKS)
  @GetMapping
  Lists.Page<RunListed> list(
      @RequestParam @Nullable String playbook,
      @RequestParam @Nullable String worker,
      @RequestParam @Nullable String state,
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    var rows =
        views.list(
            playbook,
            worker,
            state,
            Lists.number(after, Long.MAX_VALUE),
            Lists.limit(limit) + 1,
            actor);
    return Lists.page(rows, limit, RunListed::of, row -> String.valueOf(row.id()));
  }

  /** One run with its steps. */
  @Needs(Permission.SEE_PLAYBOOKS)
  @GetMapping("/{id}")
  RunShown show(@PathVariable long id, Actor actor) {
    return RunShown.of(views.show(id, actor));
  }

  /** Keeps a run from going on. */
  @Needs(Permission.PLAY_PLAYBOOKS)
  @PostMapping("/{id}/hold")
  RunShown hold(@PathVariable long id, @Valid @RequestBody RunReason body, Actor actor) {
    return RunShown.of(runs.hold(id, body.reason(), actor));
  }

  /** Lets a run go on that was held. */
  @Needs(Permission.PLAY_PLAYBOOKS)
  @PostMapping("/{id}/release")
  RunShown release(@PathVariable long id, @Valid @RequestBody RunReason body, Actor actor) {
    return RunShown.of(runs.release(id, body.reason(), actor));
  }

  /** Tries the step again at which a run stopped. */
  @Needs(Permission.PLAY_PLAYBOOKS)
  @PostMapping("/{id}/again")
  RunShown again(@PathVariable long id, @Valid @RequestBody RunReason body, Actor actor) {
    return RunShown.of(runs.again(id, body.reason(), actor));
  }

  /** Leaves out the next step of a run. */
  @Needs(Permission.PLAY_PLAYBOOKS)
  @PostMapping("/{id}/skip")
  RunShown skip(@PathVariable long id, @Valid @RequestBody RunReason body, Actor actor) {
    return RunShown.of(runs.skip(id, body.reason(), actor));
  }

  /** Goes back to a step, and on from there. */
  @Needs(Permission.PLAY_PLAYBOOKS)
  @PostMapping("/{id}/restart")
  RunShown restart(@PathVariable long id, @Valid @RequestBody RunRestart body, Actor actor) {
    return RunShown.of(runs.restart(id, body.step(), body.reason(), actor));
  }

  /** Ends a run before all of its steps are done. */
  @Needs(Permission.PLAY_PLAYBOOKS)
  @PostMapping("/{id}/end")
  RunShown end(@PathVariable long id, @Valid @RequestBody RunReason body, Actor actor) {
    return RunShown.of(runs.end(id, body.reason(), actor));
  }
}
