package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.GrantedBy;
import glenmoor.core.agenda.CalendarDays;
import glenmoor.core.people.Facts;
import glenmoor.core.people.WorkerNumber;
import glenmoor.core.requests.AskKind;
import glenmoor.core.requests.LineState;
import glenmoor.core.requests.Move;
import glenmoor.core.requests.Offer;
import glenmoor.core.requests.Offer.OnMove;
import glenmoor.core.requests.OfferKind;
import glenmoor.core.requests.Reapproval;
import glenmoor.core.requests.Reapproval.Event;
import glenmoor.engine.access.Granting;
import glenmoor.engine.agenda.FallsDue;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.definitions.Tables;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Ids;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.access.GrantMapper.GrantRow;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.requests.ReapprovalMapper;
import glenmoor.store.requests.ReapprovalMapper.ReapprovalRow;
import glenmoor.store.requests.RequestMapper;
import glenmoor.store.requests.RequestMapper.LineRow;
import glenmoor.store.requests.RequestMapper.MoveRow;
import glenmoor.store.requests.RequestMapper.RequestRow;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Has what somebody was given approved again after they have moved, where its offer says so. A
 * re-request is kept apart from its line ({@link Reapproval}): it begins with the move whatever
 * else is open, and what was not approved again ends. Each in a transaction of its own; one that
 * fails is tried again, and keeps none of the others.
 */
@Named
final class MoverReapprovals implements RecurringJob.Owner, FallsDue, Tables {
  private static final Logger LOG = LoggerFactory.getLogger(MoverReapprovals.class);
  private static final Duration LOOK = Duration.ofSeconds(2);
  private static final int BATCH = 200;
  private static final String REASON = "moved, and waits to be approved again";
  private static final String NOT_APPROVED = "moved, and was not approved again";

  private final RequestMapper requests;
  private final ReapprovalMapper reapprovals;
  private final GrantMapper grants;
  private final PersonMapper people;
  private final Asking asking;
  private final LineMoves moves;
  private final Granting granting;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Ids ids;
  private final Clock clock;

  MoverReapprovals(
      RequestMapper requests,
      ReapprovalMapper reapprovals,
      GrantMapper grants,
      PersonMapper people,
      Asking asking,
      LineMoves moves,
      Granting granting,
      Catalogues catalogues,
      Transactions transactions,
      Ids ids,
      Clock clock) {
    this.requests = requests;
    this.reapprovals = reapprovals;
    this.grants = grants;
    this.people = people;
    this.asking = asking;
    this.moves = moves;
    this.granting = granting;
    this.catalogues = catalogues;
    this.transactions = transactions;
    this.ids = ids;
    this.clock = clock;
  }

  @Override
  public List<RecurringJob> recurring() {
    return List.of(
        new RecurringJob(
            "mover-reapprovals",
            "has what somebody was given approved again after they have moved",
            LOOK,
            this::carryOut));
  }

  private static boolean asksAnew(Catalogue catalogue) {
    return catalogue.defined().all(OfferKind.class).values().stream()
        .anyMatch(offer -> offer.onMove() == OnMove.ASK);
  }

  /** Where no offer asked anew, moves until now ask for nothing by the first one that does. */
  @Override
  public void follow(Catalogue before, Catalogue after) {
    if (!asksAnew(before) && asksAnew(after)) {
      requests.noMoves(clock.instant());
    }
  }

  @Override
  public @Nullable Instant next() {
    return null;
  }

  @Override
  public boolean busy() {
    return asksAnew(catalogues.current()) && !requests.moves(0, 1).isEmpty()
        || !reapprovals.ready(0, 1).isEmpty();
  }

  @Override
  public int carryOut() {
    var done = 0;
    if (asksAnew(catalogues.current())) {
      var after = 0L;
      List<MoveRow> batch;
      do {
        batch = requests.moves(after, BATCH);
        for (var move : batch) {
          after = move.id();
          done += safely("move", move.id(), () -> begin(move));
        }
      } while (batch.size() == BATCH);
    }
    var after = 0L;
    List<Long> ready;
    do {
      ready = reapprovals.ready(after, BATCH);
      for (var id : ready) {
        after = id;
        done += safely("re-request", id, () -> goOn(id));
      }
    } while (ready.size() == BATCH);
    return done;
  }

  private int safely(String what, long id, Supplier<Integer> work) {
    try {
      return transactions.run(work::get);
    } catch (RuntimeException failed) {
      LOG.warn("The {} {} cannot be carried on", what, id, failed);
      return 0;
    }
  }

  /** What was decided on before the move is to be approved again; all else is not. */
  private int begin(MoveRow move) {
    var now = clock.instant();
    if (requests.takeMove(move.id(), now) == 0) {
      return 0;
    }
    var catalogue = catalogues.current();
    var subject = people.lock(List.of(move.personId())).getFirst();
    var begun = 0;
    var packages = new TreeMap<String, GrantRow>();
    before(move.personId(), move.detectedAt(), catalogue, now)
        .forEach(grant -> packages.put(grant.targetKey(), grant));
    for (var grant : packages.values()) {
      begin(move, grant, subject, catalogue, now);
      begun++;
    }
    return begun;
  }

  /**
   * Grants of packages that were decided by a moment, and whose offers have them asked for again.
   */
  private List<GrantRow> before(long person, Instant moment, Catalogue catalogue, Instant now) {
    return grants.lasting(List.of(person), now).stream()
        .filter(grant -> asksAnew(grant, catalogue).isPresent())
        .filter(grant -> {
          var decided = grant.decidedAt();
          return !(decided == null ? grant.startsAt() : decided).isAfter(moment);
        })
        .toList();
  }

  private void begin(
      MoveRow move, GrantRow grant, PersonRow subject, Catalogue catalogue, Instant now) {
    var offer = asksAnew(grant, catalogue).orElseThrow();
    var until = CalendarDays.after(now, offer.askedAnewDays(), catalogue.zone());
    var endBefore = grant.endsAt();
    var earlier = reapprovals.lockOpen(subject.id(), grant.targetKey());
    if (earlier != null) {
      until = until.isAfter(earlier.keepUntil()) ? earlier.keepUntil() : until;
      endBefore = Objects.equals(endBefore, earlier.keepUntil()) ? earlier.endBefore() : endBefore;
      settle(earlier, Event.MOVED_AGAIN, now);
      withdraw(earlier, now);
    }
    var row =
        new ReapprovalRow(
            ids.next(),
            subject.id(),
            grant.targetKey(),
            move.id(),
            move.detectedAt(),
            until,
            endBefore,
            Reapproval.DUE.word(),
            null,
            null);
    reapprovals.insert(row);
    keepUntil(row, grant, subject, now);
  }

  /** The line of a re-request whose place another one takes. */
  private void withdraw(ReapprovalRow earlier, Instant now) {
    var line = earlier.lineId();
    if (line != null) {
      var loaded = moves.lock(line);
      if (loaded.run().open()) {
        moves.make(
            loaded,
            new Move.Drop("They have moved again, and it is asked for again."),
            List.of(),
            Mover.CLOCK);
      }
    }
  }

  private void keepUntil(ReapprovalRow row, GrantRow grant, PersonRow subject, Instant now) {
    var endsAt = grant.endsAt();
    if (endsAt == null || endsAt.isAfter(row.keepUntil())) {
      granting.end(subject, grant, row.keepUntil(), REASON, Mover.CLOCK.login(), cause(row), now);
    }
  }

  private static String cause(ReapprovalRow row) {
    return "event:" + row.moveId();
  }

  private int goOn(long id) {
    var row = reapprovals.lock(id);
    if (row == null || Reapproval.ofWord(row.state()).over()) {
      return 0;
    }
    var now = clock.instant();
    var catalogue = catalogues.current();
    var subject = people.lock(List.of(row.personId())).getFirst();
    var about =
        before(row.personId(), row.movedAt(), catalogue, now).stream()
            .filter(grant -> grant.targetKey().equals(row.packageKey()))
            .toList();
    var line = row.lineId();
    if (line == null) {
      if (about.isEmpty()) {
        settle(row, Event.GRANT_OVER, now);
      } else {
        ask(row, about.getLast(), subject, catalogue, now);
      }
      return 1;
    }
    if (Objects.requireNonNull(requests.lock(line))
        .state()
        .equals(LineState.Outcome.APPROVED.word())) {
      settle(row, Event.APPROVED, now);
      return 1;
    }
    settle(row, about.isEmpty() ? Event.GRANT_OVER : Event.NOT_APPROVED, now);
    for (var grant : about) {
      granting.end(subject, grant, now, NOT_APPROVED, Mover.CLOCK.login(), cause(row), now);
    }
    return 1;
  }

  private void settle(ReapprovalRow row, Event event, Instant now) {
    var next = Reapproval.ofWord(row.state()).after(event);
    reapprovals.update(row.in(next.word(), next.over() ? now : null));
  }

  private static Optional<Offer> asksAnew(GrantRow grant, Catalogue catalogue) {
    return grant.targetKind().equals("package")
        ? GrantedBy.of(grant.basisKey())
            .flatMap(
                by -> Optional.ofNullable(catalogue.defined().all(OfferKind.class).get(by.offer())))
            .filter(offer -> offer.onMove() == OnMove.ASK)
        : Optional.empty();
  }

  private void ask(
      ReapprovalRow row, GrantRow grant, PersonRow subject, Catalogue catalogue, Instant now) {
    var offer = asksAnew(grant, catalogue).orElseThrow();
    // What was extended meanwhile, by a request that was open already, would end then.
    var endBefore =
        Objects.equals(grant.endsAt(), row.keepUntil()) ? row.endBefore() : grant.endsAt();
    keepUntil(row, grant, subject, now);
    var request = new RequestRow(ids.next(), Mover.CLOCK.login(), null, now, null);
    var had = asking.had(grant);
    var facts = FactsJson.read(subject.facts(), catalogue.facts());
    var line =
        new LineRow(
            ids.next(),
            request.id(),
            AskKind.EXTEND.word(),
            subject.id(),
            offer.key(),
            grant.targetKey(),
            offer.route(),
            "%s has moved; what they had before has to be approved again."
                .formatted(subject.name()),
            LineRuns.write(had.answers()),
            LineRuns.write(had.selected()),
            null,
            null,
            offer.term().written(),
            "[]",
            "",
            null,
            "",
            grant.id(),
            "open",
            null,
            "",
            null,
            WorkerNumber.key(facts.text(Facts.MANAGER)),
            catalogue.revision(),
            now,
            1,
            subject.id() + ":" + grant.targetKey());
    reapprovals.update(
        row.asked(
            Reapproval.ofWord(row.state()).after(Event.REQUESTED).word(), line.id(), endBefore));
    requests.insertRequest(request);
    moves.begin(request, line, subject, catalogue, Mover.CLOCK);
  }
}
