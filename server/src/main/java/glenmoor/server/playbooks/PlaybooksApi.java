package glenmoor.server.playbooks;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.playbooks.Trigger;
import glenmoor.engine.playbooks.RunService;
import glenmoor.engine.playbooks.RunViews;
import glenmoor.server.Lists;
import glenmoor.server.authorization.Needs;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Playbooks: what is done when something happens to a person. */
@RestController
@RequestMapping("/api/v1/playbooks")
class PlaybooksApi {
  /**
   * A playbook.
   *
   * @param on what it begins on
   * @param of the package, where it begins on a grant; the schedule, where it has one
   * @param where for whom; empty for everybody
   * @param lateDays what happened longer ago than this, when it becomes known, begins no run
   * @param runs how many runs stand in each state
   */
  record PlaybookShown(
      String key,
      String name,
      String on,
      String of,
      String where,
      int lateDays,
      List<StepSaid> steps,
      Map<String, Integer> runs) {
    static PlaybookShown of(RunViews.Listed listed) {
      var playbook = listed.playbook();
      return new PlaybookShown(
          playbook.key(),
          playbook.name(),
          playbook.on().word(),
          switch (playbook.on()) {
            case Trigger.OnGrant on -> on.rolePackage();
            case Trigger.OnSchedule on -> on.at().toString();
            case Trigger.OnEvent on -> "";
            case Trigger.OnLastGrant on -> "";
            case Trigger.OnIdle on -> on.application();
            case Trigger.OnDemand on -> "";
          },
          playbook.where().map(each -> each.text()).orElse(""),
          playbook.lateDays(),
          playbook.steps().stream().map(step -> StepSaid.of(step.said())).toList(),
          listed.runs());
    }
  }

  /**
   * What a step would do.
   *
   * @param due when; null as soon as the one before it is done
   * @param good whether it could be done as things are now
   */
  record StepRehearsed(
      int number, StepSaid said, @Nullable Instant due, String sentence, boolean good) {}

  /**
   * What a playbook would do for somebody.
   *
   * @param isFor whether its condition holds for them
   */
  record PlaybookRehearsal(String worker, String name, boolean isFor, List<StepRehearsed> steps) {}

  /**
   * For whom to play it.
   *
   * @param day the day it is about; today where none is said
   */
  record PlaybookPlay(
      @NotNull List<String> workers, @Nullable LocalDate day, @NotNull String reason) {}

  /** The runs that began, and why none did for the others. */
  record PlaybookPlayed(List<String> runs, List<String> left) {}

  /** Why; it is kept. */
  record BrakeReason(@NotNull String reason) {}

  /** How many runs go on. */
  record BrakeReleased(int runs) {}

  private final RunService runs;
  private final RunViews views;

  PlaybooksApi(RunService runs, RunViews views) {
    this.runs = runs;
    this.views = views;
  }

  /** Playbooks by their keys. */
  @Needs(Permission.SEE_PLAYBOOKS)
  @GetMapping
  Lists.Page<PlaybookShown> list(
      @RequestParam @Nullable String after,
      @RequestParam(defaultValue = Lists.USUAL_LIMIT) int limit,
      Actor actor) {
    var rows =
        views.playbooks(actor).stream()
            .filter(each -> after == null || each.playbook().key().compareTo(after) > 0)
            .limit(Lists.limit(limit) + 1L)
            .toList();
    return Lists.page(rows, limit, PlaybookShown::of, row -> row.playbook().key());
  }

  /** One of them. */
  @Needs(Permission.SEE_PLAYBOOKS)
  @GetMapping("/{key}")
  PlaybookShown show(@PathVariable String key, Actor actor) {
    return PlaybookShown.of(views.playbook(key, actor));
  }

  /** What a playbook would do for somebody, step by step; nothing is done. */
  @Needs(Permission.SEE_PLAYBOOKS)
  @GetMapping("/{key}/rehearsal")
  PlaybookRehearsal rehearse(
      @PathVariable String key,
      @RequestParam String worker,
      @RequestParam @Nullable LocalDate day,
      Actor actor) {
    return shown(views.rehearse(key, worker, day, actor));
  }

  private static PlaybookRehearsal shown(RunViews.Rehearsal rehearsal) {
    return new PlaybookRehearsal(
        rehearsal.worker(),
        rehearsal.name(),
        rehearsal.isFor(),
        rehearsal.steps().stream()
            .map(step ->
                new StepRehearsed(
                    step.number(),
                    StepSaid.of(step.said()),
                    step.due(),
                    step.sentence(),
                    step.good()))
            .toList());
  }

  /**
   * A playbook that is being written.
   *
   * @param text its definition
   * @param worker for whom to rehearse it; null for nobody
   */
  record PlaybookDraft(@NotNull String text, @Nullable String worker) {}

  /** For how many a playbook that is being written is, and what it would do for one of them. */
  record PlaybookDrafted(
      int people, int of, int unanswered, @Nullable PlaybookRehearsal rehearsal) {}

  /** Looks at a playbook that is being written; nothing is kept, and nothing done. */
  @Needs(Permission.SEE_DEFINITIONS)
  @PostMapping("/{key}/draft")
  PlaybookDrafted draft(
      @PathVariable String key, @Valid @RequestBody PlaybookDraft body, Actor actor) {
    var drafted = views.draft(key, body.text(), body.worker(), actor);
    var audience = drafted.audience();
    return new PlaybookDrafted(
        audience.people(),
        audience.of(),
        audience.unanswered(),
        drafted.rehearsal() == null ? null : shown(drafted.rehearsal()));
  }

  /** Plays a playbook that begins on demand for people that somebody chose. */
  @Needs(Permission.PLAY_PLAYBOOKS)
  @PostMapping("/{key}/runs")
  PlaybookPlayed play(
      @PathVariable String key, @Valid @RequestBody PlaybookPlay body, Actor actor) {
    var begun = runs.play(key, body.workers(), body.day(), body.reason(), actor);
    return new PlaybookPlayed(begun.runs().stream().map(String::valueOf).toList(), begun.left());
  }

  /** Lets all runs of a playbook go on that the brake holds. */
  @Needs(Permission.PLAY_PLAYBOOKS)
  @PostMapping("/{key}/release")
  BrakeReleased release(
      @PathVariable String key, @Valid @RequestBody BrakeReason body, Actor actor) {
    return new BrakeReleased(runs.releaseBraked(key, body.reason(), actor));
  }
}
