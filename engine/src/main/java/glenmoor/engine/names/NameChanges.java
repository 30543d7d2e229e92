package glenmoor.engine.names;

import glenmoor.store.Ids;
import glenmoor.store.names.NameChangeMapper;
import jakarta.inject.Named;
import java.util.Collection;

/** Tells all replicas that people got a name or another one. */
@Named
public final class NameChanges {
  private final NameChangeMapper changes;
  private final Ids ids;

  NameChanges(NameChangeMapper changes, Ids ids) {
    this.changes = changes;
    this.ids = ids;
  }

  /** Tells of people, as soon as the caller's transaction is committed; that should be soon. */
  public void tell(Collection<Long> people) {
    if (!people.isEmpty()) {
      changes.record(ids.next(), people);
    }
  }
}
