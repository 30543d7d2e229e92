package glenmoor.core.people;

import java.time.LocalDate;
import org.jspecify.annotations.Nullable;

/**
 * A human whom Glenmoor governs.
 *
 * @param absentSince the first day on which a full feed no longer named them, if it does not
 * @param cutOff the day on which somebody cut them off, whatever their source says; null otherwise
 */
public record Person(
    PersonId id,
    WorkerNumber worker,
    Facts facts,
    @Nullable LocalDate absentSince,
    @Nullable LocalDate cutOff) {

  /** Somebody who was not cut off. */
  public Person(PersonId id, WorkerNumber worker, Facts facts, @Nullable LocalDate absentSince) {
    this(id, worker, facts, absentSince, null);
  }

  public Person withFacts(Facts changed) {
    return new Person(id, worker, changed, absentSince, cutOff);
  }

  public Person absentFrom(@Nullable LocalDate day) {
    return new Person(id, worker, facts, day, cutOff);
  }

  public Person cutOffFrom(@Nullable LocalDate day) {
    return new Person(id, worker, facts, absentSince, day);
  }

  /** The same person as their source alone tells of them. */
  public Person bySource() {
    return cutOffFrom(null);
  }
}
