package glenmoor.core.playbooks;

import glenmoor.core.conditions.Expressions.Condition;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.Map;
import java.util.Optional;

/**
 * One step of a playbook.
 *
 * @param said the step as its definition says it, which is what a run keeps of it
 * @param at when it is due; nothing as soon as the one before it is done
 * @param within so many days after {@code at} it is too late for it, and it is left out
 * @param where for whom it is; it is left out for anybody else
 * @param goesOn whether the run goes on where it fails
 */
public record Step(
    Map<String, Object> said,
    Action action,
    Optional<When> at,
    Optional<Integer> within,
    Optional<Condition> where,
    boolean goesOn) {

  /** What its run has to know of it to move on. */
  public RunState.Timing timing() {
    return new RunState.Timing(at, goesOn);
  }

  /** Whether its time has passed by more than it allows. */
  public boolean tooLate(LocalDate day, ZoneId zone, Instant now) {
    return at.isPresent()
        && within.isPresent()
        && now.isAfter(new When(at.get().days() + within.get(), at.get().time()).at(day, zone));
  }
}
