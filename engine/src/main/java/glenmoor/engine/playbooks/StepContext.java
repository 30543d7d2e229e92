package glenmoor.engine.playbooks;

import glenmoor.core.jobs.GrowingPause;
import glenmoor.engine.letters.Occasion;
import glenmoor.engine.letters.Outbox.Cause;
import glenmoor.store.playbooks.PlaybookRunMapper.RunRow;
import glenmoor.store.playbooks.PlaybookRunMapper.StepRow;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;

/**
 * What a step has to know to be carried out.
 *
 * @param steps all steps of the run, as they are kept
 * @param since when it was to begin
 */
record StepContext(
    RunRow run,
    StepRow step,
    List<StepRow> steps,
    Occasion about,
    Instant since,
    Instant now,
    ZoneId zone) {
  private static final GrowingPause BEFORE_LOOKING =
      new GrowingPause(Duration.ofSeconds(10), Duration.ofHours(6));

  /** What makes a message of this step one message; a step that is tried again writes another. */
  String onceKey() {
    return "run:%d:%d:%d:".formatted(run.id(), step.number(), micros(run.reachedAt()));
  }

  private static long micros(Instant at) {
    return at.getEpochSecond() * 1_000_000 + at.getNano() / 1_000;
  }

  String cause() {
    return "run:%d/%d".formatted(run.id(), step.number() + 1);
  }

  Cause letter() {
    return new Cause(run.id(), onceKey(), cause());
  }

  /** When to look again at what was begun elsewhere; whoever ends it wakes the run before. */
  Instant again() {
    return now.plus(BEFORE_LOOKING.after(run.tries()));
  }

  /**
   * When the step has been at it for so long, where what it waits for cannot be there before a
   * moment.
   */
  Instant until(Duration time, Instant notBefore) {
    return (notBefore.isAfter(since) ? notBefore : since).plus(time);
  }

  /** Whether a moment has come. */
  boolean isOver(Instant moment) {
    return !now.isBefore(moment);
  }

  /** Whether a step before this one that begins with a word and a key was done. */
  boolean done(String word, String key) {
    return referenceOf(step -> key.equals(KeptSteps.said(step.said()).get(word))).isPresent();
  }

  /** What the last step before this one that is such and was done refers to. */
  Optional<String> referenceOf(Predicate<StepRow> such) {
    return steps.stream()
        .filter(each -> each.number() < step.number())
        .filter(each -> each.state().equals("done"))
        .filter(such)
        .map(StepRow::reference)
        .filter(reference -> !reference.isEmpty())
        .reduce((first, last) -> last);
  }
}
