package glenmoor.engine.requests;

import glenmoor.core.authorization.Actor;
import glenmoor.core.people.Facts;
import glenmoor.core.people.WorkerNumber;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.requests.RequestMapper;
import glenmoor.store.requests.RequestMapper.LineRow;
import glenmoor.store.requests.RequestMapper.RequestRow;
import jakarta.inject.Named;
import java.util.List;

/** Whom a request concerns: nobody else learns of it. */
@Named
final class Concerned {
  private final RequestMapper requests;
  private final PersonMapper people;
  private final Asking asking;
  private final Catalogues catalogues;

  Concerned(RequestMapper requests, PersonMapper people, Asking asking, Catalogues catalogues) {
    this.requests = requests;
    this.people = people;
    this.asking = asking;
    this.catalogues = catalogues;
  }

  /** Whether the actor may see a request: 404 to everybody else. */
  boolean concerns(RequestRow request, List<LineRow> lines, Actor actor) {
    if (request.askedBy().equals(actor.login())) {
      return true;
    }
    var catalogue = catalogues.current();
    if (lines.stream()
        .anyMatch(line ->
            RequestsSeen.sees(actor, line.packageKey(), LineRuns.selected(line), catalogue))) {
      return true;
    }
    var own = asking.own(actor);
    return own != null
        && (lines.stream().anyMatch(line -> line.personId().equals(own.id()))
            || isManagerOf(own, lines)
            || requests.isAsked(request.id(), own.id()));
  }

  private boolean isManagerOf(PersonRow own, List<LineRow> lines) {
    var key = WorkerNumber.key(own.workerNumber());
    var facts = catalogues.current().facts();
    return people.byIds(lines.stream().map(LineRow::personId).distinct().toList()).stream()
        .map(row -> FactsJson.read(row.facts(), facts).text(Facts.MANAGER))
        .anyMatch(manager -> WorkerNumber.key(manager).equals(key));
  }

  boolean mayWithdraw(RequestRow request, List<LineRow> lines, Actor actor) {
    var own = asking.own(actor);
    return request.askedBy().equals(actor.login())
        || own != null && lines.stream().anyMatch(line -> line.personId().equals(own.id()));
  }
}
