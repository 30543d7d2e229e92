package glenmoor.engine.campaigns;

import glenmoor.core.access.CarveOut;
import glenmoor.core.access.Grant;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;
import glenmoor.core.people.WorkerNumber;
import glenmoor.engine.Refused;
import glenmoor.engine.StatedReason;
import glenmoor.engine.access.Revoking;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.people.Visible;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.access.CarveOutMapper;
import glenmoor.store.access.CarveOutMapper.CarveOutRow;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.List;

/**
 * Rights that were revoked from people and that nothing gives back by itself, until it is released.
 */
@Named
public final class RevokedRights {
  /**
   * One of them.
   *
   * @param byRules whether no rule gives it; else it is one package that gives it no more
   * @param releasable whether the actor may release it
   */
  public record RevokedRight(
      long id,
      String entitlement,
      String name,
      String application,
      boolean byRules,
      Instant since,
      String by,
      String reason,
      boolean releasable) {}

  private final CarveOutMapper carveOuts;
  private final PersonMapper people;
  private final Visible visible;
  private final Revoking revoking;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Clock clock;

  RevokedRights(
      CarveOutMapper carveOuts,
      PersonMapper people,
      Visible visible,
      Revoking revoking,
      Catalogues catalogues,
      Transactions transactions,
      Clock clock) {
    this.carveOuts = carveOuts;
    this.people = people;
    this.visible = visible;
    this.revoking = revoking;
    this.catalogues = catalogues;
    this.transactions = transactions;
    this.clock = clock;
  }

  /** Those of somebody, for whoever may see them. */
  public List<RevokedRight> of(String worker, Actor actor) {
    var row = visible.row(worker, actor);
    var catalogue = catalogues.current();
    return carveOuts.inForce(List.of(row.id())).stream()
        .map(each ->
            new RevokedRight(
                each.id(),
                each.entitlement(),
                catalogue.name(new Grant.Target.OfEntitlement(each.entitlement())),
                application(each),
                each.grantId() == CarveOut.EVERY_RULE,
                each.madeAt(),
                each.madeBy(),
                each.reason(),
                releases(each, row, actor)))
        .toList();
  }

  private static String application(CarveOutRow row) {
    return row.entitlement().replaceFirst("/.*", "");
  }

  /** Who owns its application; nobody for themselves. */
  private static boolean releases(CarveOutRow row, PersonRow person, Actor actor) {
    return !WorkerNumber.keyOrNone(actor.worker()).equals(WorkerNumber.key(person.workerNumber()))
        && actor.may(Permission.RELEASE_REVOKED, Scope.application(application(row)));
  }

  /**
   * Lets what would give it give it again.
   *
   * @throws Refused as if there were none to whoever may not
   */
  public void release(long id, String reason, Actor actor) {
    var said = new StatedReason(reason).text().strip();
    transactions.run(() -> {
      var row = carveOuts.lock(id);
      var person = row == null ? null : people.byIds(List.of(row.personId())).getFirst();
      if (row == null || person == null || !releases(row, person, actor)) {
        throw Refused.notThere("There is nothing revoked %d that you may release.".formatted(id));
      }
      revoking.release(id, said, actor.login(), clock.instant());
    });
  }
}
