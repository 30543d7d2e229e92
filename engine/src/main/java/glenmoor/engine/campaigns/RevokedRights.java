package glenmoor.engine.campaigns;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.Grant.Target;
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
import glenmoor.store.access.RevocationMapper;
import glenmoor.store.access.RevocationMapper.RevocationRow;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import jakarta.inject.Named;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** What was revoked from people, and who may lift it. */
@Named
public final class RevokedRights {
  /**
   * One revocation that was not lifted.
   *
   * @param kind {@code entitlement} or {@code package}
   * @param target the key of it
   * @param application of the entitlement; empty for a package
   * @param since when it was decided
   * @param from when it takes effect
   * @param until when it ends; null while nobody has lifted it for a later day
   * @param by the login of who decided it
   * @param releasable whether the actor may lift it
   */
  public record RevokedRight(
      long id,
      String kind,
      String target,
      String name,
      String application,
      Instant since,
      Instant from,
      @Nullable Instant until,
      String by,
      String reason,
      boolean releasable) {}

  private final RevocationMapper revocations;
  private final PersonMapper people;
  private final Visible visible;
  private final Revoking revoking;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Clock clock;

  RevokedRights(
      RevocationMapper revocations,
      PersonMapper people,
      Visible visible,
      Revoking revoking,
      Catalogues catalogues,
      Transactions transactions,
      Clock clock) {
    this.revocations = revocations;
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
    return revocations.standing(List.of(row.id())).stream()
        .map(each ->
            new RevokedRight(
                each.id(),
                each.targetKind(),
                each.targetKey(),
                catalogue.name(each.target()),
                each.target() instanceof Target.OfEntitlement one ? application(one.key()) : "",
                each.decidedAt(),
                each.fromAt(),
                each.untilAt(),
                each.decidedBy(),
                each.reason(),
                releases(each, row, catalogue, actor)))
        .toList();
  }

  private static String application(String entitlement) {
    return entitlement.replaceFirst("/.*", "");
  }

  /** Who owns the applications that it is about; nobody for themselves. */
  private static boolean releases(
      RevocationRow row, PersonRow person, Catalogue catalogue, Actor actor) {
    if (WorkerNumber.keyOrNone(actor.worker()).equals(WorkerNumber.key(person.workerNumber()))) {
      return false;
    }
    return switch (row.target()) {
      case Target.OfEntitlement one -> owns(actor, application(one.key()));
      case Target.OfPackage bundle ->
          actor.may(Permission.RELEASE_REVOKED)
              || catalogue.given(bundle).findAny().isPresent()
                  && catalogue
                      .given(bundle)
                      .map(Entitlement::application)
                      .allMatch(each -> owns(actor, each));
    };
  }

  private static boolean owns(Actor actor, String application) {
    return actor.may(Permission.RELEASE_REVOKED, Scope.application(application));
  }

  /**
   * Lets what would give it give it again.
   *
   * @param lastDay the last day on which it still holds; null to lift it now
   * @throws Refused as if there were none to whoever may not
   */
  public void release(long id, @Nullable LocalDate lastDay, String reason, Actor actor) {
    var said = new StatedReason(reason).text().strip();
    transactions.run(() -> {
      var row = revocations.lock(id);
      var person = row == null ? null : people.byIds(List.of(row.personId())).getFirst();
      if (row == null || person == null || !releases(row, person, catalogues.current(), actor)) {
        throw Refused.notThere("There is no revocation %d that you may lift.".formatted(id));
      }
      var now = clock.instant();
      if (lastDay == null) {
        revoking.lift(id, said, actor.login(), now);
        return;
      }
      var until = lastDay.plusDays(1).atStartOfDay(catalogues.zone()).toInstant();
      if (!until.isAfter(now)) {
        throw Refused.mistake(
            "lastDay", "%s is over; name today or a later day.".formatted(lastDay));
      }
      revoking.holdUntil(row, until, said, actor.login(), now);
    });
  }
}
