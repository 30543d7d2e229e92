package glenmoor.engine.requests;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.GrantedBy;
import glenmoor.core.people.Facts;
import glenmoor.core.people.WorkerNumber;
import glenmoor.core.requests.AskKind;
import glenmoor.core.requests.Offer;
import glenmoor.core.requests.Offer.OnMove;
import glenmoor.core.requests.OfferKind;
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
import glenmoor.store.requests.RequestMapper;
import glenmoor.store.requests.RequestMapper.LineRow;
import glenmoor.store.requests.RequestMapper.MoveRow;
import glenmoor.store.requests.RequestMapper.RequestRow;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * After somebody has moved, has what they were given asked for anew where its offer says so: they
 * keep it for the days that the offer allows, and it goes on only if those who decide agree again.
 * Each move in a transaction of its own, and each once.
 */
@Named
final class MovedAsks implements RecurringJob.Owner, FallsDue, Tables {
  private static final Logger LOG = LoggerFactory.getLogger(MovedAsks.class);
  private static final Duration LOOK = Duration.ofSeconds(2);
  private static final int BATCH = 200;
  private static final String REASON = "moved, and asked for anew";

  private final RequestMapper requests;
  private final GrantMapper grants;
  private final PersonMapper people;
  private final Asking asking;
  private final LineMoves moves;
  private final Granting granting;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Ids ids;
  private final Clock clock;

  MovedAsks(
      RequestMapper requests,
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
            "moved-asks",
            "has what somebody was given asked for anew after they have moved",
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
    return asksAnew(catalogues.current()) && !requests.moves(0, 1).isEmpty();
  }

  @Override
  public int carryOut() {
    if (!asksAnew(catalogues.current())) {
      return 0;
    }
    var asked = 0;
    var after = 0L;
    List<MoveRow> batch;
    do {
      batch = requests.moves(after, BATCH);
      for (var move : batch) {
        after = move.id();
        asked += ask(move);
      }
    } while (batch.size() == BATCH);
    return asked;
  }

  /** One that fails is tried again, and keeps none of the others. */
  private int ask(MoveRow move) {
    try {
      return transactions.run(() -> {
        var now = clock.instant();
        if (requests.takeMove(move.id(), now) == 0) {
          return 0;
        }
        var catalogue = catalogues.current();
        var subject = people.byIds(List.of(move.personId())).getFirst();
        var asked = 0;
        for (var grant : grants.lasting(List.of(move.personId()), now)) {
          var offer = asksAnew(grant, catalogue);
          if (offer.isPresent() && !grant.startsAt().isAfter(move.detectedAt())) {
            asked += ask(grant, offer.get(), subject, catalogue, now);
          }
        }
        return asked;
      });
    } catch (RuntimeException failed) {
      LOG.warn("What follows from the move {} cannot be asked for", move.id(), failed);
      return 0;
    }
  }

  private static Optional<Offer> asksAnew(GrantRow grant, Catalogue catalogue) {
    return grant.targetKind().equals("package")
        ? GrantedBy.of(grant.basisKey())
            .flatMap(
                by -> Optional.ofNullable(catalogue.defined().all(OfferKind.class).get(by.offer())))
            .filter(offer -> offer.onMove() == OnMove.ASK)
        : Optional.empty();
  }

  private int ask(
      GrantRow grant, Offer offer, PersonRow subject, Catalogue catalogue, Instant now) {
    var openKey = subject.id() + ":" + grant.targetKey();
    if (requests.isOpen(openKey)) {
      return 0;
    }
    var had = asking.had(grant);
    var until = now.atZone(catalogue.zone()).plusDays(offer.askedAnewDays()).toInstant();
    var request = new RequestRow(ids.next(), Mover.CLOCK.login(), null, now, null);
    var endsAt = grant.endsAt();
    if (endsAt == null || endsAt.isAfter(until)) {
      granting.end(
          subject, grant, until, REASON, Mover.CLOCK.login(), "request:" + request.id(), now);
    }
    var facts = FactsJson.read(subject.facts(), catalogue.facts());
    requests.insertRequest(request);
    moves.begin(
        request,
        new LineRow(
            ids.next(),
            request.id(),
            AskKind.EXTEND.word(),
            subject.id(),
            offer.key(),
            grant.targetKey(),
            offer.route(),
            "%s has moved; what they had before is asked for anew.".formatted(subject.name()),
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
            openKey),
        subject,
        catalogue,
        Mover.CLOCK);
    return 1;
  }
}
