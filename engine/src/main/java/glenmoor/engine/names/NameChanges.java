package glenmoor.engine.names;

import glenmoor.engine.jobs.RecurringJob;
import glenmoor.store.Ids;
import glenmoor.store.names.NameChangeMapper;
import jakarta.inject.Named;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;

/** Tells all replicas that people got a name or another one. */
@Named
public final class NameChanges implements RecurringJob.Owner {
  private final NameChangeMapper changes;
  private final Ids ids;

  NameChanges(NameChangeMapper changes, Ids ids) {
    this.changes = changes;
    this.ids = ids;
  }

  /**
   * Those of one transaction who get a name or another one. However many they are, no more are kept
   * than can be told one by one, and one more.
   */
  public static final class Renamed {
    private final List<Long> people = new ArrayList<>();

    public void add(long person) {
      if (people.size() <= NameChangeMapper.MOST) {
        people.add(person);
      }
    }

    public void clear() {
      people.clear();
    }

    List<Long> people() {
      return List.copyOf(people);
    }
  }

  /** Tells of people, as soon as the caller's transaction is committed; that should be soon. */
  public void tell(Renamed renamed) {
    tell(renamed.people());
  }

  /** Tells of a person, likewise. */
  public void tell(long person) {
    tell(List.of(person));
  }

  private void tell(List<Long> people) {
    if (!people.isEmpty()) {
      changes.record(ids.next(), people);
    }
  }

  @Override
  public List<RecurringJob> recurring() {
    return List.of(
        new RecurringJob(
            "name-changes",
            "forgets changes of names that no service asks for any more",
            Duration.ofHours(1),
            changes::forget));
  }
}
