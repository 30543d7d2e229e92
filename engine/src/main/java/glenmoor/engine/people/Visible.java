package glenmoor.engine.people;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.people.Facts;
import glenmoor.core.people.WorkerNumber;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import jakarta.inject.Named;

/** Whom somebody may see: with a duty everybody, else themselves and their reports. */
@Named
public final class Visible {
  private final PersonMapper people;
  private final Catalogues catalogues;

  public Visible(PersonMapper people, Catalogues catalogues) {
    this.people = people;
    this.catalogues = catalogues;
  }

  static String own(Actor actor) {
    var worker = actor.worker();
    return worker == null ? "" : worker;
  }

  /** The row of somebody, whoever asks. */
  PersonRow row(String worker) {
    var row = people.byWorker(worker);
    if (row == null) {
      throw noSuch(worker);
    }
    return row;
  }

  /**
   * The row of somebody whom the actor may see.
   *
   * @throws Refused for everybody else, as if there were no such person
   */
  public PersonRow row(String worker, Actor actor) {
    var row = people.byWorker(worker);
    if (row == null || !sees(row, actor)) {
      throw noSuch(worker);
    }
    return row;
  }

  private static Refused noSuch(String worker) {
    return Refused.notThere(
        "There is nobody with the worker number %s whom you may see.".formatted(worker));
  }

  /** Whether the actor sees all there is of somebody. */
  boolean sees(PersonRow row, Actor actor) {
    return actor.may(Permission.SEE_EVERYBODY) || isOwn(row, actor);
  }

  /** Whether somebody is the actor, or reports to them; somebody who is no person has nobody. */
  private boolean isOwn(PersonRow row, Actor actor) {
    var own = WorkerNumber.keyOrNone(actor.worker());
    var facts = FactsJson.read(row.facts(), catalogues.current().facts());
    return !own.isEmpty()
        && (WorkerNumber.key(row.workerNumber()).equals(own)
            || WorkerNumber.key(facts.text(Facts.MANAGER)).equals(own));
  }
}
