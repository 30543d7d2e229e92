package glenmoor.core.requests;

import glenmoor.core.conditions.Unanswerable;
import glenmoor.core.people.PersonId;
import glenmoor.core.requests.Approver.As;
import glenmoor.core.requests.Happening.Why;
import glenmoor.core.requests.LineState.Ended;
import glenmoor.core.requests.LineState.Outcome;
import glenmoor.core.requests.StageState.Ahead;
import glenmoor.core.requests.StageState.Held;
import glenmoor.core.requests.StageState.Open;
import glenmoor.core.requests.StageState.Settled;
import glenmoor.core.requests.StageState.Times;
import glenmoor.core.requests.StageState.Verdict;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * What becomes of one line: its stages in order, each with who is asked.
 *
 * <p>All there is to moving a line stands here, in one function of the line, the move and the
 * situation. Each move begins by asking anew who is who, so that whoever has left or is away is
 * replaced before anything is decided; then the move is made; then stages open until one waits for
 * somebody. What is over stays over. A line is approved exactly when every one of its stages was
 * met, or left out because its condition did not hold.
 */
public record RouteRun(List<StageRun> stages, LineState state) {
  private static final Duration LONGEST_HOLD = Duration.ofDays(30);

  public RouteRun {
    stages = List.copyOf(stages);
  }

  /** A line whose stages are all ahead. */
  public static RouteRun of(List<StageRule> rules) {
    return new RouteRun(
        rules.stream().map(rule -> new StageRun(rule, new Ahead(), List.of(), null)).toList(),
        new LineState.Open());
  }

  /** The same with one more stage at the end. */
  public RouteRun adding(StageRule rule) {
    return new RouteRun(
        Stream.concat(stages.stream(), Stream.of(new StageRun(rule, new Ahead(), List.of(), null)))
            .toList(),
        state);
  }

  /** Whether a stage is still to come, or waits, that is about conflicts. */
  public boolean conflictsAhead() {
    return stages.stream()
        .anyMatch(stage -> stage.rule().settlesConflicts() && !(stage.state() instanceof Settled));
  }

  /** Whether such a stage waits for somebody, or for an administrator where nobody is named. */
  public boolean conflictsWait(Optional<PersonId> by) {
    return stages.stream()
        .anyMatch(
            stage -> stage.rule().settlesConflicts() && by.map(stage::asks).orElse(stage.waits()));
  }

  /** A line after a move, and what that brought about. */
  public record Moved(RouteRun run, List<Happening> happened) {}

  public boolean open() {
    return state instanceof LineState.Open;
  }

  /** When its clock has something to do; nothing for never. */
  public Optional<Instant> due() {
    return open()
        ? stages.stream().flatMap(stage -> stage.due().stream()).min(Instant::compareTo)
        : Optional.empty();
  }

  /** Whether somebody is asked at this moment. */
  public boolean asks(PersonId person) {
    return open() && stages.stream().anyMatch(stage -> stage.asks(person));
  }

  /**
   * Moves the line on.
   *
   * @throws Refusal if the move cannot be made; then nothing has changed
   */
  public Moved after(Move move, Situation situation) {
    if (state instanceof Ended ended) {
      throw new Refusal(
          Refusal.Kind.SETTLED,
          "It was %s on %s already%s."
              .formatted(
                  ended.outcome().word(),
                  ended.at(),
                  ended.reason().isEmpty() ? "" : ": " + ended.reason()));
    }
    return new Moving(this, situation).make(move);
  }

  /** One move under way: stages are replaced one by one, and what happens is noted. */
  private static final class Moving {
    private final List<StageRun> stages;
    private final Organisation organisation;
    private final Situation situation;
    private final Instant now;
    private final List<Happening> happened = new ArrayList<>();
    private LineState state = new LineState.Open();

    Moving(RouteRun run, Situation situation) {
      stages = new ArrayList<>(run.stages);
      this.situation = situation;
      organisation = situation.organisation();
      now = situation.now();
    }

    Moved make(Move move) {
      eachWaiting(this::replaced);
      switch (move) {
        case Move.Begin begin -> {}
        case Move.Look look -> eachWaiting(this::timePassed);
        case Move.Approve approve -> approve(approve);
        case Move.Decline decline -> decline(decline);
        case Move.Hold hold -> hold(hold);
        case Move.GoOn goOn -> goOn(goOn);
        case Move.PassOn passOn -> passOn(passOn);
        case Move.Withdraw withdraw -> end(Outcome.WITHDRAWN, withdraw.reason());
        case Move.Drop drop -> end(Outcome.DROPPED, drop.reason());
      }
      advance();
      return new Moved(new RouteRun(stages, state), List.copyOf(happened));
    }

    private interface OfStage {
      StageRun changed(int number, StageRun stage);
    }

    private void eachWaiting(OfStage change) {
      for (var i = 0; i < stages.size() && state instanceof LineState.Open; i++) {
        if (stages.get(i).waits()) {
          stages.set(i, change.changed(i, stages.get(i)));
        }
      }
    }

    // ---- who is asked

    /** Who is asked at a stage as it stands now; those who have agreed stay. */
    private List<Approver> asked(StageRun stage, boolean standbyJoined, boolean wentOn) {
      var rule = stage.rule();
      var first = wentOn ? rule.onTo() : rule.ask();
      var asked = approvers(first, As.ASKED, stage);
      if (standbyJoined && !wentOn) {
        approvers(rule.standby(), As.STANDBY, stage).stream()
            .filter(each -> asked.stream().noneMatch(other -> other.named().equals(each.named())))
            .forEach(asked::add);
      }
      var agreed = stage.approvers().stream().filter(Approver::agreed).toList();
      if (asked.isEmpty() && agreed.isEmpty()) {
        asked.addAll(approvers(rule.otherwise(), As.ASKED, stage));
      }
      if (asked.isEmpty() && agreed.isEmpty()) {
        asked.addAll(approvers(List.of(new Deciders.Administrators()), As.ASKED, stage));
      }
      var gone = agreed.stream().map(Approver::named).collect(Collectors.toSet());
      asked.removeIf(each -> gone.contains(each.named()));
      var all = new ArrayList<>(agreed);
      all.addAll(asked);
      return all;
    }

    private List<Approver> approvers(List<Deciders> who, As as, StageRun stage) {
      var found = new ArrayList<Approver>();
      for (var named : organisation.asked(who)) {
        var passed =
            stage.approvers().stream()
                .filter(each -> each.as() == As.PASSED_ON && each.named().equals(named.named()))
                .flatMap(each -> organisation.standIn(each.person()).stream())
                .findFirst();
        found.add(
            passed
                .map(to -> new Approver(named.named(), to, As.PASSED_ON, false))
                .orElse(new Approver(named.named(), named.person(), as, false)));
      }
      return found;
    }

    private StageRun replaced(int number, StageRun stage) {
      var times = times(stage);
      return telling(
          number, stage, asked(stage, times.standbyJoined(), times.wentOn()), Why.REPLACED);
    }

    /** The stage with others asked; those who were not asked before are told. */
    private StageRun telling(int number, StageRun stage, List<Approver> asked, Why why) {
      var before = undecided(stage.approvers());
      var fresh = new LinkedHashSet<>(undecided(asked));
      fresh.removeAll(before);
      if (!fresh.isEmpty() || asked.isEmpty() && !stage.approvers().isEmpty()) {
        happened.add(new Happening.Asked(number, fresh, why));
      }
      return stage.with(asked);
    }

    private static Set<PersonId> undecided(List<Approver> approvers) {
      return approvers.stream()
          .filter(each -> !each.agreed())
          .map(Approver::person)
          .collect(Collectors.toCollection(LinkedHashSet::new));
    }

    private static Times times(StageRun stage) {
      return switch (stage.state()) {
        case Open open -> open.times();
        case Held held -> held.times();
        case Ahead ahead -> throw new IllegalStateException("The stage is not open");
        case Settled settled -> throw new IllegalStateException("The stage is settled");
      };
    }

    // ---- time

    private StageRun timePassed(int number, StageRun stage) {
      return switch (stage.state()) {
        case Held held ->
            held.until().isAfter(now)
                ? stage
                : timePassed(number, stage.with(new Open(resumed(held, held.until()))));
        case Open open -> timePassed(number, stage, open.times());
        case Ahead ahead -> stage;
        case Settled settled -> stage;
      };
    }

    private StageRun timePassed(int number, StageRun stage, Times times) {
      var clock = stage.rule().clock();
      if (!times.lapse(clock).isAfter(now)) {
        return lapsed(number, stage, times);
      }
      if (times.standby(clock).filter(at -> !at.isAfter(now)).isPresent()) {
        var joined = times.afterStandby();
        var wider =
            telling(number, stage, asked(stage, true, joined.wentOn()), Why.STANDBY)
                .with(new Open(joined));
        return timePassed(number, wider, joined);
      }
      if (times.nextNudge(clock).filter(at -> !at.isAfter(now)).isPresent()) {
        var nudged = times.afterNudge();
        happened.add(new Happening.Nudged(number, undecided(stage.approvers())));
        return timePassed(number, stage.with(new Open(nudged)), nudged);
      }
      return stage;
    }

    private StageRun lapsed(int number, StageRun stage, Times times) {
      if (times.wentOn() || stage.rule().onTo().isEmpty()) {
        return settle(
            number,
            stage,
            Verdict.LAPSED,
            null,
            "Nobody decided within %d days.".formatted(stage.rule().clock().lapse().toDays()));
      }
      var on = Times.goneOn(now);
      return telling(number, stage, asked(stage, true, true), Why.WENT_ON).with(new Open(on));
    }

    private Times resumed(Held held, Instant at) {
      var stood = Duration.between(held.at(), at);
      return held.times().afterStanding(stood.isNegative() ? Duration.ZERO : stood);
    }

    // ---- decisions

    private void approve(Move.Approve approve) {
      deciding(approve.by(), "approve");
      eachWaiting((number, stage) -> {
        if (approve.by().isEmpty()) {
          reason(stage.rule().reason().approving(), approve.reason(), "approving");
          return settle(number, stage, Verdict.MET, null, approve.reason());
        }
        var by = approve.by().get();
        if (!stage.asks(by)) {
          return stage;
        }
        reason(stage.rule().reason().approving(), approve.reason(), "approving");
        var agreed = stage.with(agreeing(stage.approvers(), by));
        return agreed.agreed() ? settle(number, agreed, Verdict.MET, by, approve.reason()) : agreed;
      });
    }

    private static List<Approver> agreeing(List<Approver> approvers, PersonId by) {
      return approvers.stream()
          .map(each -> each.person().equals(by) ? each.withAgreed() : each)
          .toList();
    }

    private void decline(Move.Decline decline) {
      deciding(decline.by(), "decline");
      for (var i = 0; i < stages.size() && state instanceof LineState.Open; i++) {
        var stage = stages.get(i);
        if (decline.by().map(stage::asks).orElse(stage.waits())) {
          reason(stage.rule().reason().declining(), decline.reason(), "declining");
          stages.set(
              i, settle(i, stage, Verdict.DECLINED, decline.by().orElse(null), decline.reason()));
        }
      }
    }

    private void hold(Move.Hold hold) {
      deciding(Optional.of(hold.by()), "hold");
      if (!hold.until().isAfter(now) || hold.until().isAfter(now.plus(LONGEST_HOLD))) {
        throw new Refusal(
            Refusal.Kind.BAD_INPUT,
            "It can wait for at most %d days from now.".formatted(LONGEST_HOLD.toDays()));
      }
      eachWaiting((number, stage) ->
          stage.asks(hold.by())
              ? stage.with(
                  new Held(
                      stage.state() instanceof Held held ? resumed(held, now) : times(stage),
                      hold.by(),
                      now,
                      hold.until(),
                      hold.reason()))
              : stage);
    }

    private void goOn(Move.GoOn goOn) {
      deciding(Optional.of(goOn.by()), "go on with");
      eachWaiting((number, stage) ->
          stage.asks(goOn.by()) && stage.state() instanceof Held held
              ? stage.with(new Open(resumed(held, now)))
              : stage);
    }

    private void passOn(Move.PassOn passOn) {
      deciding(Optional.of(passOn.by()), "pass on");
      var to = passOn.to();
      if (to.equals(passOn.by())) {
        throw new Refusal(Refusal.Kind.BAD_INPUT, "You have it already.");
      }
      if (!organisation.standIn(to).filter(to::equals).isPresent()) {
        throw new Refusal(
            Refusal.Kind.BAD_INPUT,
            "It can be passed on to somebody who is here, and neither asks for it nor gets it.");
      }
      eachWaiting((number, stage) ->
          stage.asks(passOn.by())
              ? telling(
                  number,
                  stage,
                  stage.approvers().stream()
                      .map(each ->
                          each.person().equals(passOn.by()) && !each.agreed()
                              ? new Approver(each.named(), to, As.PASSED_ON, false)
                              : each)
                      .toList(),
                  Why.PASSED_ON)
              : stage);
    }

    private void deciding(Optional<PersonId> by, String what) {
      if (by.isPresent() && stages.stream().noneMatch(stage -> stage.asks(by.get()))) {
        throw new Refusal(
            Refusal.Kind.NOT_YOURS,
            stages.stream().anyMatch(stage -> hasAgreed(stage, by.get()))
                ? "You have agreed already; it waits for somebody else."
                : "You are not asked at this moment, so you cannot %s it.".formatted(what));
      }
    }

    private static boolean hasAgreed(StageRun stage, PersonId person) {
      return stage.approvers().stream()
          .anyMatch(each -> each.person().equals(person) && each.agreed());
    }

    private static void reason(boolean needed, String reason, String doing) {
      if (needed && reason.isBlank()) {
        throw new Refusal(
            Refusal.Kind.BAD_INPUT,
            "This stage wants to know why: say it when %s.".formatted(doing));
      }
    }

    // ---- going on

    private StageRun settle(
        int number, StageRun stage, Verdict verdict, @Nullable PersonId by, String reason) {
      var settled = new Settled(verdict, now, by, reason);
      happened.add(new Happening.StageSettled(number, settled));
      return stage.with(settled);
    }

    /** Ends the line where a stage says so, else opens stages until one waits for somebody. */
    private void advance() {
      while (state instanceof LineState.Open) {
        // Where all must agree, the last who had not may be asked no more.
        eachWaiting((number, stage) ->
            stage.agreed() ? settle(number, stage, Verdict.MET, null, "") : stage);
        var against = stages.stream().flatMap(Moving::against).findFirst();
        if (against.isPresent()) {
          end(
              against.get().verdict() == Verdict.DECLINED ? Outcome.DECLINED : Outcome.LAPSED,
              against.get().reason());
          return;
        }
        if (stages.stream().anyMatch(StageRun::waits)) {
          return;
        }
        var next = next();
        if (next < 0) {
          end(Outcome.APPROVED, "");
          return;
        }
        open(next);
        for (var i = next + 1; i < stages.size() && stages.get(i).rule().beside(); i++) {
          open(i);
        }
      }
    }

    private static Stream<Settled> against(StageRun stage) {
      return stage.state() instanceof Settled settled && !settled.verdict().goesOn()
          ? Stream.of(settled)
          : Stream.empty();
    }

    private int next() {
      for (var i = 0; i < stages.size(); i++) {
        if (stages.get(i).state() instanceof Ahead) {
          return i;
        }
      }
      return -1;
    }

    private void open(int number) {
      var stage = stages.get(number);
      if (!takesPlace(stage.rule())) {
        stages.set(
            number, settle(number, stage, Verdict.LEFT_OUT, null, "Its condition does not hold."));
        return;
      }
      var asked = alreadyAgreed(stage.rule(), asked(stage, false, false));
      var opened = stage.opened(new Open(Times.from(now)), asked, now);
      if (organisation.managerAsks(stage.rule().ask())
          && (stage.rule().agree() == StageRule.Agree.ANY
              || asked.stream().allMatch(Approver::agreed)
              || fallenBack(stage.rule()))) {
        stages.set(
            number,
            settle(number, opened, Verdict.MET, organisation.asker(), "Asked by their manager."));
        return;
      }
      if (opened.agreed()) {
        stages.set(
            number, settle(number, opened, Verdict.MET, null, "Agreed at an earlier stage."));
        return;
      }
      happened.add(new Happening.Asked(number, undecided(asked), Why.OPENED));
      stages.set(number, opened);
    }

    /** Whether nobody of those whom a stage asks first could act. */
    private boolean fallenBack(StageRule rule) {
      return organisation.asked(rule.ask()).isEmpty();
    }

    /** A condition that fails leaves nothing out: the stage takes place. */
    private boolean takesPlace(StageRule rule) {
      try {
        return rule.where().isEmpty() || rule.where().get().holds(situation.view());
      } catch (Unanswerable failed) {
        return true;
      }
    }

    private List<Approver> alreadyAgreed(StageRule rule, List<Approver> asked) {
      // Whoever allows a conflict says on what terms; agreeing to the rest is no such word.
      if (rule.again() || rule.settlesConflicts()) {
        return asked;
      }
      var agreed = new HashSet<PersonId>();
      stages.stream()
          .filter(
              stage -> stage.state() instanceof Settled settled && settled.verdict() == Verdict.MET)
          .flatMap(stage -> stage.approvers().stream())
          .filter(Approver::agreed)
          .forEach(each -> agreed.add(each.person()));
      return asked.stream()
          .map(each -> agreed.contains(each.person()) ? each.withAgreed() : each)
          .toList();
    }

    private void end(Outcome outcome, String reason) {
      for (var i = 0; i < stages.size(); i++) {
        var stage = stages.get(i);
        if (!(stage.state() instanceof Settled)) {
          stages.set(i, stage.with(new Settled(Verdict.DROPPED, now, null, "")));
        }
      }
      var ended = new Ended(outcome, now, reason);
      state = ended;
      happened.add(new Happening.LineEnded(ended));
    }
  }
}
