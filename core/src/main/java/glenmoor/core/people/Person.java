package glenmoor.core.people;

import java.time.LocalDate;
import org.jspecify.annotations.Nullable;

/**
 * A human whom Glenmoor governs.
 *
 * @param absentSince the first day on which a full feed no longer named them, if it does not
 */
public record Person(
    PersonId id, WorkerNumber worker, Facts facts, @Nullable LocalDate absentSince) {

  public Person withFacts(Facts changed) {
    return new Person(id, worker, changed, absentSince);
  }

  public Person absentFrom(@Nullable LocalDate day) {
    return new Person(id, worker, facts, day);
  }
}
