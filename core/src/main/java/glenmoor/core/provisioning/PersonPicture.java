package glenmoor.core.provisioning;

import glenmoor.core.access.Grant;
import glenmoor.core.people.Person;
import java.util.List;

/** All that planning for one person has to know: their facts, grants and accounts. */
public record PersonPicture(Person person, List<Grant> grants, List<Account> accounts) {
  public PersonPicture withPerson(Person changed) {
    return new PersonPicture(changed, grants, accounts);
  }
}
