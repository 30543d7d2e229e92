package glenmoor.engine.playbooks;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.playbooks.Playbook;
import glenmoor.core.playbooks.PlaybookKind;
import glenmoor.core.playbooks.RunDay;
import glenmoor.core.playbooks.RunSearch;
import glenmoor.core.playbooks.RunStep;
import glenmoor.core.playbooks.RunView;
import glenmoor.core.playbooks.When;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.definitions.DefinitionDrafts;
import glenmoor.engine.letters.Outbox;
import glenmoor.engine.people.Audience;
import glenmoor.engine.people.Visible;
import glenmoor.engine.time.Clock;
import glenmoor.store.playbooks.PlaybookRunMapper;
import jakarta.inject.Named;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;

/** What there is to see of playbooks and their runs, and what a playbook would do. */
@Named
public final class RunViews {
  private static final List<String> STATES =
      List.of("open", "held", "stopped", "done", "ended", "unfinished");

  /** A playbook with how many runs stand in each state. */
  public record Listed(Playbook playbook, Map<String, Integer> runs) {}

  /**
   * A step of a run.
   *
   * @param said as its playbook said it when the run began
   * @param due when it is due, as far as that can be told; null for what follows the one before it
   */
  public record StepShown(RunStep step, Map<String, Object> said, @Nullable Instant due) {}

  /** A run with its steps. */
  public record Shown(RunView run, List<StepShown> steps) {}

  /**
   * What a step would do for somebody.
   *
   * @param due when; null as soon as the one before it is done
   * @param good whether it could be done as things are now
   */
  public record Rehearsed(
      int number, Map<String, Object> said, @Nullable Instant due, String sentence, boolean good) {}

  /**
   * What a playbook would do for somebody.
   *
   * @param isFor whether its condition holds for them
   */
  public record Rehearsal(String worker, String name, boolean isFor, List<Rehearsed> steps) {}

  private final PlaybookRunMapper runs;
  private final Beginnings beginnings;
  private final Steps steps;
  private final Outbox outbox;
  private final Visible visible;
  private final Audience audience;
  private final Catalogues catalogues;
  private final DefinitionDrafts drafts;
  private final Clock clock;

  RunViews(
      PlaybookRunMapper runs,
      Beginnings beginnings,
      Steps steps,
      Outbox outbox,
      Visible visible,
      Audience audience,
      Catalogues catalogues,
      DefinitionDrafts drafts,
      Clock clock) {
    this.runs = runs;
    this.beginnings = beginnings;
    this.steps = steps;
    this.outbox = outbox;
    this.visible = visible;
    this.audience = audience;
    this.catalogues = catalogues;
    this.drafts = drafts;
    this.clock = clock;
  }

  /** All playbooks there are, by their keys. */
  public List<Listed> playbooks(Actor actor) {
    Authorization.need(actor, Permission.SEE_PLAYBOOKS);
    var counts = new TreeMap<String, Map<String, Integer>>();
    runs.counts()
        .forEach(count ->
            counts
                .computeIfAbsent(count.playbook(), key -> new TreeMap<>())
                .put(count.state(), count.runs()));
    return beginnings.playbooks().stream()
        .sorted(Comparator.comparing(Playbook::key))
        .map(each -> new Listed(each, counts.getOrDefault(each.key(), Map.of())))
        .toList();
  }

  /**
   * Of how many playbooks runs are stopped or held, and wait for somebody to say how they go on.
   */
  public int stuck() {
    return (int)
        runs.counts().stream()
            .filter(count -> count.state().equals("stopped") || count.state().equals("held"))
            .map(PlaybookRunMapper.Count::playbook)
            .distinct()
            .count();
  }

  /**
   * One of them.
   *
   * @throws Refused if there is none
   */
  public Listed playbook(String key, Actor actor) {
    return playbooks(actor).stream()
        .filter(each -> each.playbook().key().equals(key))
        .findFirst()
        .orElseThrow(() -> noPlaybook(key));
  }

  private static Refused noPlaybook(String key) {
    return Refused.notThere(
        "There is no playbook “%s”; glenmoor playbooks list shows those there are.".formatted(key));
  }

  /** Runs, the last one first. */
  public List<RunView> list(
      @Nullable String playbook,
      @Nullable String worker,
      @Nullable String state,
      long before,
      int limit,
      Actor actor) {
    Authorization.need(actor, Permission.SEE_PLAYBOOKS);
    if (state != null && !STATES.contains(state)) {
      throw Refused.badInput(
          "There is no state “%s”; say one of %s.".formatted(state, String.join(", ", STATES)));
    }
    var person = worker == null ? null : visible.row(worker, actor).id();
    return runs.list(new RunSearch(playbook, person, state, before, limit));
  }

  /**
   * @throws Refused if there is none
   */
  public Shown show(long id, Actor actor) {
    Authorization.need(actor, Permission.SEE_PLAYBOOKS);
    var run = runs.byId(id);
    if (run == null) {
      throw noRun(id);
    }
    var zone = catalogues.current().zone();
    var shown = new ArrayList<StepShown>();
    for (var step : runs.steps(id)) {
      var said = KeptSteps.said(step.said());
      var at =
          Optional.ofNullable(said.get("at"))
              .map(Object::toString)
              .flatMap(When::of)
              .map(when -> when.at(run.day(), zone));
      var due =
          step.number().equals(run.step()) && run.state().equals("open")
              ? Optional.ofNullable(run.dueAt())
              : at;
      shown.add(new StepShown(step, said, due.orElse(null)));
    }
    return new Shown(run, shown);
  }

  static Refused noRun(long id) {
    return Refused.notThere(
        "There is no run " + id + "; glenmoor runs list shows those there are.");
  }

  /**
   * What a playbook would do for somebody, step by step; nothing is done.
   *
   * @param day the day it would be about; null for today, or the day that their facts name
   */
  public Rehearsal rehearse(String key, String worker, @Nullable LocalDate day, Actor actor) {
    Authorization.need(actor, Permission.SEE_PLAYBOOKS);
    return rehearsed(playbook(key, actor).playbook(), worker, day, actor);
  }

  /**
   * What a playbook that somebody is writing would do.
   *
   * @param audience how many people its condition is for
   * @param rehearsal for one of them; null where nobody was named
   */
  public record Drafted(Audience.Counted audience, @Nullable Rehearsal rehearsal) {}

  /**
   * The same of a playbook that somebody is writing, with how many it is for.
   *
   * @param draft its definition
   * @param worker for whom it is rehearsed; null for nobody
   * @throws Refused with every mistake in the draft, if there is any
   */
  public Drafted draft(String key, String draft, @Nullable String worker, Actor actor) {
    Authorization.need(actor, Permission.SEE_PLAYBOOKS);
    var catalogue = drafts.with(draft, actor);
    var playbook = catalogue.defined().all(PlaybookKind.class).get(key);
    if (playbook == null) {
      throw noPlaybook(key);
    }
    var counted =
        playbook
            .where()
            .map(where -> audience.of(where, catalogue))
            .orElseGet(() -> audience.everybody(catalogue));
    return new Drafted(counted, worker == null ? null : rehearsed(playbook, worker, null, actor));
  }

  private Rehearsal rehearsed(
      Playbook playbook, String worker, @Nullable LocalDate day, Actor actor) {
    var catalogue = catalogues.current();
    var row = visible.row(worker, actor);
    var about = outbox.about(row);
    var kind = Beginnings.event(playbook);
    var today = clock.instant().atZone(catalogue.zone()).toLocalDate();
    var when =
        day != null
            ? day
            : Optional.ofNullable(kind)
                .flatMap(each -> RunDay.comes(each, about.person()))
                .orElse(today);
    var rehearsed = new ArrayList<Rehearsed>();
    for (var step : playbook.steps()) {
      var would = steps.would(step.action(), about, when);
      rehearsed.add(
          new Rehearsed(
              rehearsed.size() + 1,
              step.said(),
              step.at().map(at -> at.at(when, catalogue.zone())).orElse(null),
              would.sentence(),
              would.good()));
    }
    return new Rehearsal(
        row.workerNumber(),
        row.name(),
        Beginnings.isFor(playbook, about.person(), catalogue),
        rehearsed);
  }
}
