package glenmoor.core.playbooks;

import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;

/** How a run of a playbook stands. Its steps are numbered from 0. */
public sealed interface RunState {
  /**
   * It goes on by itself.
   *
   * @param step the next one
   * @param reached when the one before it was done
   * @param due when there is something to do, or to look at
   * @param tries how often the step was tried or looked at
   */
  record Open(int step, Instant reached, Instant due, int tries) implements RunState {}

  /** Somebody holds it. */
  record Held(Open before, String reason) implements RunState {}

  /** A step failed, and somebody has to say how it goes on. */
  record Stopped(int step, Instant reached, String reason) implements RunState {}

  /** All of its steps are behind it. */
  record Done(Instant at) implements RunState {}

  /** It came to an end before all of its steps were done. */
  record Ended(int step, Instant at, String reason) implements RunState {}

  /**
   * What a run has to know of a step to move on.
   *
   * @param at when it is due; nothing as soon as the one before it is done
   * @param goesOn whether the run goes on where it fails
   */
  record Timing(Optional<When> at, boolean goesOn) {
    /** When it is due, once the one before it is done. */
    Instant due(LocalDate day, ZoneId zone, Instant reached) {
      return at.map(when -> when.at(day, zone)).filter(reached::isBefore).orElse(reached);
    }
  }

  /** What came of doing a step. */
  sealed interface Outcome {
    /**
     * @param what it did, as a sentence without a full stop
     */
    record Done(String what) implements Outcome {}

    /** It was left out. */
    record LeftOut(String why) implements Outcome {}

    /** It has begun, or cannot be done now; it is looked at again. */
    record NotYet(Instant again, String why) implements Outcome {}

    record Failed(String why) implements Outcome {}

    /** It says that the run is over. */
    record EndsRun(String why) implements Outcome {}
  }

  /** What becomes of a step. */
  enum StepState {
    OPEN("open"),
    DONE("done"),
    LEFT_OUT("left-out"),
    FAILED("failed");

    private final String word;

    StepState(String word) {
      this.word = word;
    }

    public String word() {
      return word;
    }
  }

  /**
   * A run after one of its steps was tried.
   *
   * @param what to keep with the step
   */
  record Moved(RunState state, StepState step, String what) {}

  /** The beginning of a run. */
  static RunState begin(List<Timing> steps, LocalDate day, ZoneId zone, Instant now) {
    return new Open(0, now, first(steps.getFirst(), day, zone, now), 0);
  }

  /** What is to be done first, and has no time of its own, is done on the day and not before it. */
  private static Instant first(Timing step, LocalDate day, ZoneId zone, Instant now) {
    var begins = new When(0, LocalTime.MIDNIGHT).at(day, zone);
    return step.at().isEmpty() && begins.isAfter(now) ? begins : step.due(day, zone, now);
  }

  /** Moves a run on by what came of its next step. */
  static Moved after(
      Open open, Outcome outcome, List<Timing> steps, LocalDate day, ZoneId zone, Instant now) {
    return switch (outcome) {
      case Outcome.Done done ->
          new Moved(reached(open.step() + 1, steps, day, zone, now), StepState.DONE, done.what());
      case Outcome.LeftOut left ->
          new Moved(
              reached(open.step() + 1, steps, day, zone, now), StepState.LEFT_OUT, left.why());
      case Outcome.NotYet notYet ->
          new Moved(
              new Open(open.step(), open.reached(), notYet.again(), open.tries() + 1),
              StepState.OPEN,
              notYet.why());
      case Outcome.Failed failed ->
          new Moved(
              steps.get(open.step()).goesOn()
                  ? reached(open.step() + 1, steps, day, zone, now)
                  : new Stopped(open.step(), open.reached(), failed.why()),
              StepState.FAILED,
              failed.why());
      case Outcome.EndsRun ends ->
          new Moved(new Ended(open.step(), now, ends.why()), StepState.DONE, ends.why());
    };
  }

  private static RunState reached(
      int step, List<Timing> steps, LocalDate day, ZoneId zone, Instant now) {
    return step == steps.size()
        ? new Done(now)
        : new Open(step, now, steps.get(step).due(day, zone, now), 0);
  }

  /** A run that is about another day now: what is done stays done. */
  static RunState redated(RunState state, List<Timing> steps, LocalDate day, ZoneId zone) {
    return switch (state) {
      case Open open -> redated(open, steps, day, zone);
      case Held held -> new Held(redated(held.before(), steps, day, zone), held.reason());
      case Stopped stopped -> stopped;
      case Done done -> done;
      case Ended ended -> ended;
    };
  }

  private static Open redated(Open open, List<Timing> steps, LocalDate day, ZoneId zone) {
    return new Open(open.step(), open.reached(), begins(open, steps, day, zone), open.tries());
  }

  /**
   * When the next step is to begin, or began: the one before it may have been done long before.
   * What waits, waits from then on.
   */
  static Instant begins(Open open, List<Timing> steps, LocalDate day, ZoneId zone) {
    return open.step() == 0
        ? first(steps.getFirst(), day, zone, open.reached())
        : steps.get(open.step()).due(day, zone, open.reached());
  }
}
