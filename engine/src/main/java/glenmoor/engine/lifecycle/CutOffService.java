package glenmoor.engine.lifecycle;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.lifecycle.CutOff;
import glenmoor.core.lifecycle.Detected;
import glenmoor.core.lifecycle.EventKind;
import glenmoor.core.people.Person;
import glenmoor.core.people.Standing;
import glenmoor.core.people.WorkerNumber;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.StatedReason;
import glenmoor.engine.authorization.Duties;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.identity.SignIns;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.provisioning.OperationWorkers;
import glenmoor.engine.provisioning.Planning;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Ids;
import glenmoor.store.lifecycle.CutOffMapper;
import glenmoor.store.lifecycle.EventMapper;
import glenmoor.store.lifecycle.EventMapper.EventRow;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import jakarta.inject.Named;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * Cuts off somebody who must go this minute, whatever their source says, and brings them back.
 *
 * <p>What is cut off stays so until somebody brings the person back, or the source comes to say by
 * itself that they have left: then it is the source that decides again. No feed undoes it before.
 */
@Named
public final class CutOffService {
  private final PersonMapper people;
  private final CutOffMapper cutOffs;
  private final EventMapper events;
  private final CutOffViews views;
  private final Planning planning;
  private final OperationWorkers workers;
  private final SignIns signIns;
  private final Duties duties;
  private final Catalogues catalogues;
  private final Ledger ledger;
  private final Transactions transactions;
  private final Ids ids;
  private final Clock clock;

  public CutOffService(
      PersonMapper people,
      CutOffMapper cutOffs,
      EventMapper events,
      CutOffViews views,
      Planning planning,
      OperationWorkers workers,
      SignIns signIns,
      Duties duties,
      Catalogues catalogues,
      Ledger ledger,
      Transactions transactions,
      Ids ids,
      Clock clock) {
    this.people = people;
    this.cutOffs = cutOffs;
    this.events = events;
    this.views = views;
    this.planning = planning;
    this.workers = workers;
    this.signIns = signIns;
    this.duties = duties;
    this.catalogues = catalogues;
    this.ledger = ledger;
    this.transactions = transactions;
    this.ids = ids;
    this.clock = clock;
  }

  /** Those who are cut off and whose source does not say so yet, the last one first. */
  public List<CutOff> inForce(@Nullable Long before, int limit, Actor actor) {
    Authorization.need(actor, Permission.SEE_FEEDS);
    return cutOffs.inForce(before, limit);
  }

  /**
   * How it stands with somebody, or what would happen to them.
   *
   * @throws Refused if there is no such person
   */
  public CutOffViews.Shown show(String worker, Actor actor) {
    Authorization.need(actor, Permission.SEE_FEEDS);
    return views.of(worker);
  }

  /**
   * Cuts somebody off; asked twice it is done once.
   *
   * @param why kept with it
   * @throws Refused if the actor may not, is the person themselves, or would leave Glenmoor without
   *     an administrator; or if the person has left already
   */
  public CutOffViews.Shown cutOff(String worker, String why, Actor actor) {
    Authorization.need(actor, Permission.CUT_OFF);
    var reason = new StatedReason(why).text().strip();
    var row = views.row(worker);
    if (WorkerNumber.key(row.workerNumber()).equals(WorkerNumber.keyOrNone(actor.worker()))) {
      throw new Refused(
          Refused.Reason.NOT_ALLOWED, "Nobody cuts themselves off; ask somebody else to do it.");
    }
    var done =
        transactions.run(() -> {
          var now = clock.instant();
          var today = today(now);
          var person = person(people.lock(List.of(row.id())).getFirst());
          if (person.cutOff() != null) {
            return false;
          }
          if (Standing.of(person, today).isGone()) {
            throw new Refused(
                Refused.Reason.NOT_NOW,
                "%s has left already, says their source; glenmoor operations list --worker %s shows how far each application is."
                    .formatted(row.name(), row.workerNumber()));
          }
          signIns.inForceOf(row.id()).forEach(duties::anotherAdministratorStays);
          var event = event(row.id(), EventKind.LEAVER, today, now);
          cutOffs.begin(ids.next(), row.id(), now, actor.login(), reason, event);
          cutOffs.mark(List.of(row.id()), today, now, "cut-off:" + actor.login());
          ledger.append(entry(row, actor, event, "cut-off", reason, now));
          return true;
        });
    if (done) {
      signIns.endLeavers();
    }
    // Whoever asks again may ask because the first time was cut short.
    atOnce(row, "cut-off:" + actor.login());
    return views.of(worker);
  }

  /**
   * Brings back somebody who was cut off: they have what their source and their grants give them.
   *
   * @throws Refused if they are not cut off, which is so too once their source says they have left
   */
  public CutOffViews.Shown bringBack(String worker, String why, Actor actor) {
    Authorization.need(actor, Permission.CUT_OFF);
    var reason = new StatedReason(why).text().strip();
    var row = views.row(worker);
    transactions.run(() -> {
      var now = clock.instant();
      var today = today(now);
      var person = person(people.lock(List.of(row.id())).getFirst());
      if (person.cutOff() == null) {
        throw new Refused(
            Refused.Reason.NOT_NOW,
            Standing.of(person, today).isGone()
                ? "%s has left, says their source: only what it says next brings them back."
                    .formatted(row.name())
                : "%s is not cut off.".formatted(row.name()));
      }
      var event = event(row.id(), EventKind.REHIRE, today, now);
      movedMeanwhile(person, today, now);
      cutOffs.mark(List.of(row.id()), null, now, "brought-back:" + actor.login());
      cutOffs.end(
          List.of(row.id()), now, actor.login(), CutOff.Ending.BROUGHT_BACK.word(), reason, event);
      ledger.append(entry(row, actor, event, "brought-back", reason, now));
    });
    atOnce(row, "brought-back:" + actor.login());
    return views.of(worker);
  }

  private void atOnce(PersonRow row, String cause) {
    planning.planNow(row.id(), cause);
    workers.wake();
  }

  /** What their source said while they were cut off moved nobody; now it does. */
  private void movedMeanwhile(Person person, LocalDate today, Instant now) {
    var cutOff = cutOffs.last(person.id().value());
    var before = cutOff == null ? null : people.asOf(person.id().value(), cutOff.at());
    if (before == null) {
      return;
    }
    Detected.move(person(before), person, catalogues.current().facts(), today)
        .ifPresent(move ->
            events.insert(
                List.of(
                    new EventRow(
                        ids.next(),
                        person.id().value(),
                        move.kind().word(),
                        today,
                        null,
                        FeedWriting.changes(move.changes()),
                        now,
                        null))));
  }

  private long event(long person, EventKind kind, LocalDate today, Instant now) {
    var event = ids.next();
    events.insert(List.of(new EventRow(event, person, kind.word(), today, null, "[]", now, null)));
    return event;
  }

  private static LedgerEntry entry(
      PersonRow row, Actor actor, long event, String what, String reason, Instant now) {
    return new LedgerEntry(
        now,
        actor.login(),
        "event:" + event,
        "person:" + row.workerNumber(),
        what,
        Map.of(),
        Map.of("reason", reason));
  }

  private LocalDate today(Instant now) {
    return now.atZone(catalogues.current().zone()).toLocalDate();
  }

  private Person person(PersonRow row) {
    return FactsJson.person(row, catalogues.current().facts());
  }
}
