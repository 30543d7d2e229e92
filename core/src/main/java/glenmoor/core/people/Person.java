package glenmoor.core.people;

import java.time.LocalDate;
import org.jspecify.annotations.Nullable;

/**
 * A human whom Glenmoor governs.
 *
 * @param absentSince the first day on which a full feed no longer named them, if it does not
 * @param cutOff the day on which somebody cut them off, whatever their source says; null otherwise
 * @param erasedOn the day on which all but their worker number was erased; null otherwise
 */
public record Person(
    PersonId id,
    WorkerNumber worker,
    Facts facts,
    @Nullable LocalDate absentSince,
    @Nullable LocalDate cutOff,
    @Nullable LocalDate erasedOn) {

  /** Somebody who was neither cut off nor erased. */
  public Person(PersonId id, WorkerNumber worker, Facts facts, @Nullable LocalDate absentSince) {
    this(id, worker, facts, absentSince, null, null);
  }

  public Person withFacts(Facts changed) {
    return new Person(id, worker, changed, absentSince, cutOff, erasedOn);
  }

  public Person absentFrom(@Nullable LocalDate day) {
    return new Person(id, worker, facts, day, cutOff, erasedOn);
  }

  public Person cutOffFrom(@Nullable LocalDate day) {
    return new Person(id, worker, facts, absentSince, day, erasedOn);
  }

  /** The same person, of whom something is known again. */
  public Person knownAgain() {
    return new Person(id, worker, facts, absentSince, cutOff, null);
  }

  /** The same person as their source alone tells of them. */
  public Person bySource() {
    return cutOffFrom(null);
  }
}
