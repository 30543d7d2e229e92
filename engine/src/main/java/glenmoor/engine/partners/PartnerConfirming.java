package glenmoor.engine.partners;

import glenmoor.core.access.Catalogue;
import glenmoor.core.authorization.Actor;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.lifecycle.Source;
import glenmoor.core.partners.TermsOfUse;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Standing;
import glenmoor.core.requests.Offer;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.letters.LetterKeys;
import glenmoor.engine.lifecycle.CountsLater;
import glenmoor.engine.lifecycle.RecordWriter;
import glenmoor.engine.lifecycle.WorkerNumbers;
import glenmoor.engine.requests.RequestService;
import glenmoor.engine.requests.RequestService.NewLine;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.partners.PartnerMapper;
import glenmoor.store.partners.PartnerMapper.AskRow;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import jakarta.inject.Named;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import tools.jackson.databind.json.JsonMapper;

/**
 * Where somebody of a partner organisation confirms their address. Only then is there a record of
 * them, and somebody asked; they count once something was agreed to.
 */
@Named
public final class PartnerConfirming implements RecurringJob.Owner {
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final String BY_LETTER = "by letter";

  /** What came of confirming an address. */
  public record PartnerAsked(String organisation, String name, String offer, String mail) {}

  private final PartnerMapper partners;
  private final PersonMapper people;
  private final RequestService asking;
  private final RecordWriter records;
  private final WorkerNumbers numbers;
  private final Newcomers newcomers;
  private final PartnerLinks links;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Clock clock;

  PartnerConfirming(
      PartnerMapper partners,
      PersonMapper people,
      RequestService asking,
      RecordWriter records,
      WorkerNumbers numbers,
      Newcomers newcomers,
      PartnerLinks links,
      Catalogues catalogues,
      Transactions transactions,
      Ledger ledger,
      Clock clock) {
    this.partners = partners;
    this.people = people;
    this.asking = asking;
    this.records = records;
    this.numbers = numbers;
    this.newcomers = newcomers;
    this.links = links;
    this.catalogues = catalogues;
    this.transactions = transactions;
    this.ledger = ledger;
    this.clock = clock;
  }

  /**
   * Confirms an address: there is a record of them from now on, and what they need is asked for.
   * Doing it twice asks once.
   *
   * @throws Refused if the key leads nowhere, or it cannot be asked for any more
   */
  public PartnerAsked confirm(String key) {
    var row = transactions.run(() -> locked(key));
    var catalogue = catalogues.current();
    var organisation = links.organisation(row.organisation(), catalogue);
    var said = JSON.readValue(row.said(), Said.class);
    var source = Objects.requireNonNull(catalogue.sources().get(organisation.source()));
    var worker = transactions.run(() -> numbered(key, source));
    var known = people.byWorker(worker);
    var here =
        known != null
            && !Standing.of(FactsJson.person(known, catalogue.facts()), links.today(catalogue))
                .isGone();
    if (!here) {
      records.load(
          source,
          worker,
          PartnerLinks.facts(
              said, row.mail(), organisation, new CountsLater.Days(Facts.NOT_YET, null), catalogue),
          Actor.SERVICE);
    }
    try {
      transactions.run(() -> {
        var locked = locked(key);
        if (locked.requestId() == null) {
          asked(locked, said, worker, source, here, catalogue);
        }
      });
    } catch (Refused refused) {
      if (!here) {
        newcomers.neverCame(
            source, Objects.requireNonNull(people.byWorker(worker)), catalogues.current());
      }
      throw refused;
    }
    return new PartnerAsked(
        organisation.name(),
        (said.given() + " " + said.family()).strip(),
        PartnerLinks.offers(organisation, catalogue)
            .filter(each -> each.key().equals(said.offer()))
            .map(Offer::name)
            .findFirst()
            .orElse(said.offer()),
        row.mail());
  }

  private AskRow locked(String key) {
    var row =
        key.isEmpty() || key.length() > LetterKeys.LONGEST
            ? null
            : partners.lockAsk(LetterKeys.hash(key));
    if (row == null || !row.expiresAt().isAfter(clock.instant())) {
      throw Refused.notThere(
          "This leads nowhere any more: its time is over, or it never was. Follow the link that you were sent once more.");
    }
    return row;
  }

  /** Their worker number: that which they had before, or a new one. */
  private String numbered(String key, Source source) {
    var row = locked(key);
    var has = row.workerNumber();
    if (has != null) {
      return has;
    }
    var before = partners.known(row.organisation(), row.mail());
    var worker = before == null ? numbers.next(source).orElseThrow() : before;
    partners.numbered(row.id(), worker);
    return worker;
  }

  private void asked(
      AskRow row, Said said, String worker, Source source, boolean here, Catalogue catalogue) {
    var name = (said.given() + " " + said.family()).strip();
    var actor = new Actor(BY_LETTER, name, worker, List.of());
    var request =
        asking.submit(
            List.of(
                new NewLine(
                    said.offer(), worker, "", null, null, said.answers(), said.reason(), null)),
            "partner:" + row.id(),
            actor);
    var now = clock.instant();
    if (!row.terms().isEmpty()) {
      asking.comment(
          request,
          "Accepted “%s”, version %d, on %s; the address %s is confirmed."
              .formatted(
                  PartnerLinks.terms(links.organisation(row.organisation(), catalogue), catalogue)
                      .map(TermsOfUse::name)
                      .orElse(row.terms()),
                  row.termsVersion(),
                  row.acceptedAt().atZone(catalogue.zone()).toLocalDate(),
                  row.mail()),
          actor);
    }
    ledger.append(
        new LedgerEntry(
            now,
            BY_LETTER,
            "request:" + request,
            "person:" + worker,
            "partner-confirmed",
            Map.of(),
            Map.of(
                "organisation",
                row.organisation(),
                "mail",
                row.mail(),
                "terms",
                row.terms(),
                "version",
                row.termsVersion(),
                "acceptedAt",
                row.acceptedAt().toString())));
    if (!here) {
      newcomers.wait(
          source,
          worker,
          links.days(links.organisation(row.organisation(), catalogue), catalogue),
          request);
    }
    partners.confirmed(row.id(), request, now);
  }

  /** What was never confirmed is forgotten: nothing of whoever asked is left. */
  @Override
  public List<RecurringJob> recurring() {
    return List.of(
        new RecurringJob(
            "partner-asks",
            "forgets what partners asked for and never confirmed",
            Duration.ofHours(1),
            () -> transactions.run(() -> partners.forget(clock.instant()))));
  }
}
