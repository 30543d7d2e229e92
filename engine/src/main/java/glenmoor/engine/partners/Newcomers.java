package glenmoor.engine.partners;

import glenmoor.core.access.Catalogue;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.lifecycle.Source;
import glenmoor.core.partners.Newcomer;
import glenmoor.core.people.Facts;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.lifecycle.CountsLater;
import glenmoor.engine.lifecycle.RecordWriter;
import glenmoor.engine.requests.RequestService;
import glenmoor.engine.requests.RequestService.NewLine;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.partners.PartnerMapper;
import glenmoor.store.partners.PartnerMapper.NewcomerRow;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.requests.RequestMapper;
import jakarta.inject.Named;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * People whose record waits until somebody agrees that they count. Their first day stands so far
 * ahead meanwhile that nothing is made ready for them; once something that was asked for them was
 * agreed to it is the day that was said, and where nothing was they never came.
 */
@Named
public final class Newcomers implements CountsLater, RecurringJob.Owner {
  private static final Logger LOG = LoggerFactory.getLogger(Newcomers.class);
  private static final Duration LOOK = Duration.ofSeconds(2);
  private static final int BATCH = 100;
  private static final String WAITS = "waits";

  private final PartnerMapper partners;
  private final PersonMapper people;
  private final RequestMapper requests;
  private final RequestService asking;
  private final RecordWriter records;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Clock clock;

  Newcomers(
      PartnerMapper partners,
      PersonMapper people,
      RequestMapper requests,
      RequestService asking,
      RecordWriter records,
      Catalogues catalogues,
      Transactions transactions,
      Ledger ledger,
      Clock clock) {
    this.partners = partners;
    this.people = people;
    this.requests = requests;
    this.asking = asking;
    this.records = records;
    this.catalogues = catalogues;
    this.transactions = transactions;
    this.ledger = ledger;
    this.clock = clock;
  }

  @Override
  public List<RecurringJob> recurring() {
    return List.of(
        new RecurringJob(
            "newcomers", "has people count once that was agreed to", LOOK, this::carryOut));
  }

  @Override
  public Optional<Days> waiting(@Nullable PersonRow row) {
    return Optional.ofNullable(row)
        .map(each -> partners.newcomer(each.id()))
        .filter(each -> each.state().equals(WAITS))
        .map(each -> new Days(each.starts(), each.ends()));
  }

  @Override
  public void said(PersonRow row, Days days) {
    transactions.run(() -> {
      var known = partners.newcomer(row.id());
      if (known == null || !known.state().equals(WAITS)) {
        throw new Refused(Refused.Reason.NOT_NOW, "It was agreed to meanwhile; open it again.");
      }
      partners.putNewcomer(
          new NewcomerRow(
              known.personId(),
              known.source(),
              days.starts(),
              days.ends(),
              known.requestId(),
              WAITS,
              known.since(),
              null));
    });
  }

  @Override
  public void entered(Source source, String worker, Days days, String reason, Actor actor) {
    if (!source.byManagers()) {
      Authorization.need(actor, Permission.LOAD_FEEDS);
    }
    var offer = source.countsBy().orElseThrow();
    try {
      var line = new NewLine(offer, worker, "", null, null, Map.of(), reason, null);
      transactions.run(() -> wait(source, worker, days, asking.submit(List.of(line), "", actor)));
    } catch (Refused refused) {
      // Nobody is asked, so they never come.
      neverCame(source, Objects.requireNonNull(people.byWorker(worker)), catalogues.current());
      throw refused;
    }
  }

  /** Notes somebody who waits for a request, inside the caller's transaction. */
  void wait(Source source, String worker, Days days, long request) {
    partners.putNewcomer(
        new NewcomerRow(
            Objects.requireNonNull(people.byWorker(worker)).id(),
            source.key(),
            days.starts(),
            days.ends(),
            request,
            WAITS,
            clock.instant(),
            null));
  }

  /** Looks at everybody who waits; one who cannot be written keeps none of the others. */
  public int carryOut() {
    var settled = 0;
    var after = 0L;
    List<NewcomerRow> batch;
    do {
      batch = partners.waiting(after, BATCH);
      for (var row : batch) {
        after = row.personId();
        settled += look(row) ? 1 : 0;
      }
    } while (batch.size() == BATCH);
    return settled;
  }

  private boolean look(NewcomerRow row) {
    try {
      var states = requests.statesSince(row.personId(), row.requestId());
      return switch (Newcomer.of(states)) {
        case WAITS -> false;
        case COUNTS -> settle(row, true);
        case DOES_NOT -> settle(row, false);
      };
    } catch (RuntimeException failed) {
      LOG.warn("The record of the newcomer {} cannot be written", row.personId(), failed);
      return false;
    }
  }

  private boolean settle(NewcomerRow row, boolean counts) {
    var catalogue = catalogues.current();
    var source = catalogue.sources().get(row.source());
    if (source == null) {
      return false;
    }
    var person = people.byIds(List.of(row.personId())).getFirst();
    if (counts) {
      var today = clock.instant().atZone(catalogue.zone()).toLocalDate();
      var facts = FactsJson.texts(person.facts(), catalogue.facts());
      var starts = row.starts().isBefore(today) ? today : row.starts();
      var ends = row.ends();
      facts.put(Facts.START, starts.toString());
      facts.put(Facts.END, ends == null ? "" : ends.toString());
      if (ends != null && ends.isBefore(starts)) {
        // It took so long that their time is over.
        neverCame(source, person, catalogue);
      } else {
        records.load(source, person.workerNumber(), facts, Actor.SERVICE);
      }
    } else {
      neverCame(source, person, catalogue);
    }
    transactions.run(() -> {
      partners.settle(row.personId(), counts ? "counts" : "does-not", clock.instant());
      ledger.append(
          new LedgerEntry(
              clock.instant(),
              Actor.SERVICE.login(),
              "request:" + row.requestId(),
              "person:" + person.workerNumber(),
              counts ? "newcomer-counts" : "newcomer-does-not-count",
              Map.of(),
              Map.of("source", row.source())));
    });
    return true;
  }

  /** Writes that somebody never came: their time was over before it began. */
  void neverCame(Source source, PersonRow person, Catalogue catalogue) {
    var yesterday = clock.instant().atZone(catalogue.zone()).toLocalDate().minusDays(1);
    var facts = FactsJson.texts(person.facts(), catalogue.facts());
    facts.put(Facts.START, yesterday.toString());
    facts.put(Facts.END, yesterday.toString());
    records.load(source, person.workerNumber(), facts, Actor.SERVICE);
  }
}
