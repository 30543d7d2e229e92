package glenmoor.engine.requests;

import glenmoor.store.people.PersonRow;
import java.util.Map;

/** Somebody by name. */
public record Who(String worker, String name) {
  static Who of(PersonRow row) {
    return new Who(row.workerNumber(), row.name());
  }

  /** The name of one of them; empty where they are not known. */
  static String name(Map<Long, Who> names, long person) {
    var who = names.get(person);
    return who == null ? "" : who.name();
  }
}
