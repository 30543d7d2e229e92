package glenmoor.engine.partners;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.RolePackage;
import glenmoor.core.authorization.Actor;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.letters.LetterKind;
import glenmoor.core.lifecycle.Source;
import glenmoor.core.partners.Newcomer;
import glenmoor.core.partners.PartnerOrganisation;
import glenmoor.core.partners.PartnerOrganisationKind;
import glenmoor.core.partners.TermsOfUse;
import glenmoor.core.partners.TermsOfUseKind;
import glenmoor.core.people.FactDefinition;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Person;
import glenmoor.core.people.PersonId;
import glenmoor.core.people.Standing;
import glenmoor.core.people.WorkerNumber;
import glenmoor.core.requests.Ask;
import glenmoor.core.requests.AskKind;
import glenmoor.core.requests.Offer;
import glenmoor.core.requests.OfferKind;
import glenmoor.core.requests.Question;
import glenmoor.core.requests.Unaskable;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.letters.LetterKeys;
import glenmoor.engine.letters.Outbox;
import glenmoor.engine.letters.Outbox.Unwritten;
import glenmoor.engine.letters.PublicAddress;
import glenmoor.engine.lifecycle.CountsLater;
import glenmoor.engine.lifecycle.RecordWriter;
import glenmoor.engine.lifecycle.WorkerNumbers;
import glenmoor.engine.requests.RequestService;
import glenmoor.engine.requests.RequestService.NewLine;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Ids;
import glenmoor.store.partners.PartnerMapper;
import glenmoor.store.partners.PartnerMapper.AskRow;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.LocalDate;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tools.jackson.databind.json.JsonMapper;

/**
 * Where people of partner organisations ask for access by a link, without signing in. What they say
 * is kept until they confirm their address by a letter; only then is there a record of them, and
 * somebody asked. They count once something was agreed to.
 */
@Named
public final class PartnerDoor implements RecurringJob.Owner {
  private static final Logger LOG = LoggerFactory.getLogger(PartnerDoor.class);
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final Duration GOOD_FOR = Duration.ofHours(48);
  private static final int LONGEST = 200;
  private static final String BY_LETTER = "by letter";
  private static final String MAIL = "mail";
  private static final String SPONSOR = "sponsor";

  /** As much of an address as can be told before a letter was sent there (RFC 5321, 4.1.2). */
  private static final Pattern ADDRESS =
      Pattern.compile("[A-Za-z0-9.!#$%&'*+/=?^_`{|}~-]{1,64}@[A-Za-z0-9.-]{1,190}");

  /** A question of what can be asked for. */
  public record PartnerQuestion(
      String key, String text, String kind, List<String> choices, boolean required) {}

  /** What can be asked for. */
  public record PartnerOffer(
      String key,
      String name,
      String purpose,
      String term,
      boolean reasonNeeded,
      List<PartnerQuestion> questions) {}

  /**
   * What somebody sees who follows the link.
   *
   * @param terms what has to be accepted; empty for nothing
   */
  public record PartnerWelcome(
      String organisation,
      List<String> mailDomains,
      List<PartnerOffer> offers,
      String termsName,
      int termsVersion,
      String terms) {}

  /**
   * What somebody says of themselves and asks for.
   *
   * @param acceptedVersion of the terms; 0 for none
   */
  public record Said(
      String given,
      String family,
      String mail,
      String offer,
      Map<String, String> answers,
      String reason,
      int acceptedVersion) {}

  /** What came of confirming an address. */
  public record PartnerAsked(String organisation, String name, String offer, String mail) {}

  private final PartnerMapper partners;
  private final PersonMapper people;
  private final RequestService asking;
  private final RecordWriter records;
  private final WorkerNumbers numbers;
  private final Newcomers newcomers;
  private final PartnerFloods floods;
  private final Outbox outbox;
  private final PublicAddress address;
  private final LetterKeys keys;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Ids ids;
  private final Clock clock;

  PartnerDoor(
      PartnerMapper partners,
      PersonMapper people,
      RequestService asking,
      RecordWriter records,
      WorkerNumbers numbers,
      Newcomers newcomers,
      PartnerFloods floods,
      Outbox outbox,
      PublicAddress address,
      LetterKeys keys,
      Catalogues catalogues,
      Transactions transactions,
      Ledger ledger,
      Ids ids,
      Clock clock) {
    this.partners = partners;
    this.people = people;
    this.asking = asking;
    this.records = records;
    this.numbers = numbers;
    this.newcomers = newcomers;
    this.floods = floods;
    this.outbox = outbox;
    this.address = address;
    this.keys = keys;
    this.catalogues = catalogues;
    this.transactions = transactions;
    this.ledger = ledger;
    this.ids = ids;
    this.clock = clock;
  }

  private LocalDate today(Catalogue catalogue) {
    return clock.instant().atZone(catalogue.zone()).toLocalDate();
  }

  private PartnerOrganisation organisation(String key, Catalogue catalogue) {
    return Optional.ofNullable(catalogue.defined().all(PartnerOrganisationKind.class).get(key))
        .filter(each -> each.open(today(catalogue)))
        .orElseThrow(() ->
            Refused.notThere("This link leads nowhere any more; ask whoever sent it to you."));
  }

  private static Optional<TermsOfUse> terms(PartnerOrganisation of, Catalogue catalogue) {
    return Optional.ofNullable(catalogue.defined().all(TermsOfUseKind.class).get(of.terms()));
  }

  private static Stream<Offer> offers(PartnerOrganisation of, Catalogue catalogue) {
    var all = catalogue.defined().all(OfferKind.class);
    return of.offers().stream()
        .flatMap(key -> Stream.ofNullable(all.get(key)))
        .filter(offer ->
            offer.open()
                && Optional.ofNullable(catalogue.packages().get(offer.rolePackage()))
                    .filter(each -> each.retired().isEmpty())
                    .isPresent());
  }

  /**
   * What somebody sees who follows the link of an organisation.
   *
   * @throws Refused where there is none, or its time is over
   */
  public PartnerWelcome welcome(String key) {
    var catalogue = catalogues.current();
    var organisation = organisation(key, catalogue);
    var terms = terms(organisation, catalogue);
    return new PartnerWelcome(
        organisation.name(),
        organisation.mailDomains().stream().sorted().toList(),
        offers(organisation, catalogue).map(offer -> shown(offer, catalogue)).toList(),
        terms.map(TermsOfUse::name).orElse(""),
        terms.map(TermsOfUse::version).orElse(0),
        terms.map(TermsOfUse::text).orElse(""));
  }

  private static PartnerOffer shown(Offer offer, Catalogue catalogue) {
    return new PartnerOffer(
        offer.key(),
        offer.name(),
        Optional.ofNullable(catalogue.packages().get(offer.rolePackage()))
            .map(RolePackage::purpose)
            .orElse(""),
        offer.term().written(),
        offer.reasonNeeded(),
        offer.questions().stream().map(PartnerDoor::shown).toList());
  }

  private static PartnerQuestion shown(Question each) {
    return new PartnerQuestion(
        each.key(),
        each.text(),
        each.kind().word(),
        each.choices(),
        each.required() && each.where().isEmpty());
  }

  /**
   * Keeps what somebody asks for, and sends a letter to the address they say. Whoever has a record
   * already is told nothing else here.
   *
   * @param place the address it comes from
   * @throws Refused with every field that is wrong; nothing is kept then
   */
  public void ask(String key, Said said, String place) {
    var catalogue = catalogues.current();
    var organisation = organisation(key, catalogue);
    var mail = said.mail().strip().toLowerCase(Locale.ROOT);
    floods.knocks(place);
    var offer = check(said, mail, organisation, catalogue);
    var about = person(said, mail, organisation, catalogue);
    askable(said, offer, about, catalogue);
    var letter = catalogue.defined().all(LetterKind.class).get(organisation.letter());
    var page = address.page("/partners/confirm#");
    if (letter == null || page.isEmpty()) {
      LOG.warn(
          "No partner can confirm their address: {}",
          letter == null ? "its letter is gone" : "GLENMOOR_PUBLIC_URL is not set");
      throw new Refused(
          Refused.Reason.NOT_NOW, "No letters are sent at the moment; try again later.");
    }
    floods.letter(key, mail);
    var secret = keys.make();
    var now = clock.instant();
    var row =
        new AskRow(
            ids.next(),
            key,
            mail,
            JSON.writeValueAsString(said),
            organisation.terms(),
            said.acceptedVersion(),
            now,
            LetterKeys.hash(secret),
            now.plus(GOOD_FOR),
            "unconfirmed",
            null,
            null,
            null);
    try {
      transactions.run(() -> {
        partners.insertAsk(row);
        outbox.confirm(
            letter,
            about,
            mail,
            "“%s” for %s".formatted(offer.name(), organisation.name()),
            today(catalogue),
            new Outbox.Leading(page, secret),
            new Outbox.Cause(null, "partner:" + row.id(), "partner-organisation:" + key));
      });
    } catch (Unwritten unwritten) {
      LOG.warn("A partner's letter cannot be written: {}", unwritten.getMessage());
      throw new Refused(
          Refused.Reason.NOT_NOW, "No letters are sent at the moment; try again later.");
    }
  }

  private static Offer check(
      Said said, String mail, PartnerOrganisation organisation, Catalogue catalogue) {
    if (said.given().isBlank() || said.given().length() > LONGEST) {
      throw Refused.mistake("given", "Say your given name, or the one name you have.");
    }
    if (said.family().length() > LONGEST) {
      throw Refused.mistake("family", "That is too long for a name.");
    }
    if (mail.length() > LONGEST || !ADDRESS.matcher(mail).matches() || !organisation.has(mail)) {
      throw Refused.mistake(
          MAIL,
          "Say your own address at %s: one that ends with @%s."
              .formatted(
                  organisation.name(),
                  String.join(" or @", organisation.mailDomains().stream().sorted().toList())));
    }
    var terms = terms(organisation, catalogue);
    if (terms.isPresent() && terms.get().version() != said.acceptedVersion()) {
      throw Refused.mistake(
          "acceptedVersion",
          said.acceptedVersion() == 0
              ? "Read “%s” and accept it.".formatted(terms.get().name())
              : "“%s” has changed since you opened this page; read it again."
                  .formatted(terms.get().name()));
    }
    return offers(organisation, catalogue)
        .filter(each -> each.key().equals(said.offer()))
        .findFirst()
        .orElseThrow(
            () -> Refused.mistake("offer", "Choose what you need from what is offered here."));
  }

  private void askable(Said said, Offer offer, Person about, Catalogue catalogue) {
    try {
      Ask.of(
          new Ask.Draft(AskKind.NEW, null, null, said.answers(), said.reason()),
          offer,
          about,
          null,
          catalogue,
          clock.instant());
    } catch (Unaskable unaskable) {
      if (unaskable.field().equals("worker") || unaskable.field().equals("offer")) {
        LOG.warn(
            "What a partner organisation offers cannot be asked for: {}", unaskable.getMessage());
        throw Refused.mistake(
            "offer", "This is not offered at the moment; ask whoever sent you the link.");
      }
      throw Refused.mistake(unaskable.field(), String.valueOf(unaskable.getMessage()));
    }
  }

  // ---- what is known of them

  private Person person(
      Said said, String mail, PartnerOrganisation organisation, Catalogue catalogue) {
    var values = new HashMap<String, Object>();
    facts(said, mail, organisation, days(organisation, catalogue), catalogue)
        .forEach((fact, text) -> {
          FactDefinition definition = catalogue.facts().get(fact);
          if (definition != null && !text.isEmpty()) {
            definition.type().read(text).ifPresent(value -> values.put(fact, value));
          }
        });
    return new Person(new PersonId(0), new WorkerNumber("P-0"), Facts.of(values), null);
  }

  private CountsLater.Days days(PartnerOrganisation organisation, Catalogue catalogue) {
    return new CountsLater.Days(today(catalogue), organisation.until());
  }

  /** What their record says. */
  private static Map<String, String> facts(
      Said said,
      String mail,
      PartnerOrganisation organisation,
      CountsLater.Days days,
      Catalogue catalogue) {
    var facts = new HashMap<>(organisation.facts());
    facts.put(Facts.GIVEN, said.given().strip());
    facts.put(Facts.FAMILY, said.family().strip());
    var ends = days.ends();
    facts.put(Facts.START, days.starts().toString());
    facts.put(Facts.END, ends == null ? "" : ends.toString());
    facts.put(MAIL, mail);
    facts.put(
        catalogue.facts().containsKey(SPONSOR) ? SPONSOR : Facts.MANAGER, organisation.sponsor());
    facts.keySet().removeIf(fact -> !catalogue.facts().containsKey(fact));
    return facts;
  }

  // ---- once the address is confirmed

  /**
   * Confirms an address: there is a record of them from now on, and what they need is asked for.
   * Doing it twice asks once.
   *
   * @throws Refused if the key leads nowhere, or it cannot be asked for any more
   */
  public PartnerAsked confirm(String key) {
    var row = transactions.run(() -> locked(key));
    var catalogue = catalogues.current();
    var organisation = organisation(row.organisation(), catalogue);
    var said = JSON.readValue(row.said(), Said.class);
    var source = Objects.requireNonNull(catalogue.sources().get(organisation.source()));
    var worker = transactions.run(() -> numbered(key, source));
    var known = people.byWorker(worker);
    var here =
        known != null
            && !Standing.of(FactsJson.person(known, catalogue.facts()), today(catalogue)).isGone();
    if (!here) {
      records.load(
          source,
          worker,
          facts(
              said,
              row.mail(),
              organisation,
              new CountsLater.Days(Newcomer.NOT_YET, null),
              catalogue),
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
        offers(organisation, catalogue)
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
                  terms(organisation(row.organisation(), catalogue), catalogue)
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
          source, worker, days(organisation(row.organisation(), catalogue), catalogue), request);
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
