package glenmoor.engine.lifecycle;

import glenmoor.core.access.Catalogue;
import glenmoor.core.definitions.Definition.Name;
import glenmoor.core.people.ValueCount;
import glenmoor.engine.definitions.InUse;
import glenmoor.store.people.PersonMapper;
import jakarta.inject.Named;
import java.util.HashSet;
import java.util.List;

/** Sources that have people stay defined. */
@Named
final class SourcesInUse implements InUse {
  private final PersonMapper people;

  SourcesInUse(PersonMapper people) {
    this.people = people;
  }

  @Override
  public List<Use> uses(Catalogue before, Catalogue after) {
    var dropped = new HashSet<>(before.sources().keySet());
    dropped.removeAll(after.sources().keySet());
    return dropped.isEmpty()
        ? List.of()
        : people.countOfSources(dropped).stream().map(SourcesInUse::use).toList();
  }

  private static Use use(ValueCount uses) {
    var name = new Name("source", uses.value());
    return new Use(
        name,
        "%s cannot be dropped while it has people (%,d): nobody could tell any more when they leave. Let another source bring them first, once they have left here."
            .formatted(name, uses.people()));
  }
}
