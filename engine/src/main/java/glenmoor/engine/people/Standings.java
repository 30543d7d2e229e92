package glenmoor.engine.people;

import glenmoor.core.people.Person;
import glenmoor.core.people.PersonId;
import glenmoor.core.people.StandingSpan;
import glenmoor.core.people.StandingSpan.Known;
import glenmoor.core.people.WorkerNumber;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import jakarta.inject.Named;
import java.util.List;

/** Somebody's standing through time, as it was known at each time. */
@Named
public final class Standings {
  private final PersonMapper people;
  private final Catalogues catalogues;

  public Standings(PersonMapper people, Catalogues catalogues) {
    this.people = people;
    this.catalogues = catalogues;
  }

  /** Oldest first. */
  public List<StandingSpan> of(PersonRow row) {
    var catalogue = catalogues.current();
    var known =
        people.recorded(row.id()).stream()
            .map(each ->
                new Known(
                    new Person(
                        new PersonId(row.id()),
                        new WorkerNumber(row.workerNumber()),
                        FactsJson.read(each.facts(), catalogue.facts()),
                        each.absentSince(),
                        each.cutOffOn(),
                        each.erasedOn()),
                    each.recordedAt().atZone(catalogue.zone()).toLocalDate()))
            .toList();
    return StandingSpan.through(known);
  }
}
