package glenmoor.core.provisioning;

import glenmoor.core.access.Grant;
import glenmoor.core.people.Person;
import java.util.List;

/**
 * All that planning for one person has to know: their facts, grants and accounts, and the
 * differences that somebody answers for.
 */
public record PersonSnapshot(
    Person person, List<Grant> grants, List<Account> accounts, List<AcceptedDeviation> deviations) {
  public PersonSnapshot(Person person, List<Grant> grants, List<Account> accounts) {
    this(person, grants, accounts, List.of());
  }

  public PersonSnapshot withPerson(Person changed) {
    return new PersonSnapshot(changed, grants, accounts, deviations);
  }
}
