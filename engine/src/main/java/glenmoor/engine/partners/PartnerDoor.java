package glenmoor.engine.partners;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.RolePackage;
import glenmoor.core.letters.LetterKind;
import glenmoor.core.partners.PartnerOrganisation;
import glenmoor.core.partners.TermsOfUse;
import glenmoor.core.people.FactDefinition;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Person;
import glenmoor.core.people.PersonId;
import glenmoor.core.people.WorkerNumber;
import glenmoor.core.requests.Ask;
import glenmoor.core.requests.AskKind;
import glenmoor.core.requests.Offer;
import glenmoor.core.requests.Question;
import glenmoor.core.requests.Unaskable;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.letters.LetterKeys;
import glenmoor.engine.letters.Outbox;
import glenmoor.engine.letters.Outbox.Unwritten;
import glenmoor.engine.letters.PublicAddress;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Ids;
import glenmoor.store.partners.PartnerMapper;
import glenmoor.store.partners.PartnerMapper.AskRow;
import jakarta.inject.Named;
import java.time.Duration;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Pattern;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import tools.jackson.databind.json.JsonMapper;

/**
 * Where people of partner organisations ask for access by a link, without signing in. What they say
 * is kept until they confirm their address by a letter; see {@link PartnerConfirming}.
 */
@Named
public final class PartnerDoor {
  private static final Logger LOG = LoggerFactory.getLogger(PartnerDoor.class);
  private static final JsonMapper JSON = JsonMapper.shared();
  private static final Duration GOOD_FOR = Duration.ofHours(48);
  private static final int LONGEST = 200;

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

  private final PartnerMapper partners;
  private final PartnerLinks links;
  private final PartnerFloods floods;
  private final Outbox outbox;
  private final PublicAddress address;
  private final LetterKeys keys;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Ids ids;
  private final Clock clock;

  PartnerDoor(
      PartnerMapper partners,
      PartnerLinks links,
      PartnerFloods floods,
      Outbox outbox,
      PublicAddress address,
      LetterKeys keys,
      Catalogues catalogues,
      Transactions transactions,
      Ids ids,
      Clock clock) {
    this.partners = partners;
    this.links = links;
    this.floods = floods;
    this.outbox = outbox;
    this.address = address;
    this.keys = keys;
    this.catalogues = catalogues;
    this.transactions = transactions;
    this.ids = ids;
    this.clock = clock;
  }

  /**
   * What somebody sees who follows the link of an organisation.
   *
   * @throws Refused where there is none, or its time is over
   */
  public PartnerWelcome welcome(String key) {
    var catalogue = catalogues.current();
    var organisation = links.organisation(key, catalogue);
    var terms = PartnerLinks.terms(organisation, catalogue);
    return new PartnerWelcome(
        organisation.name(),
        organisation.mailDomains().stream().sorted().toList(),
        PartnerLinks.offers(organisation, catalogue).map(offer -> shown(offer, catalogue)).toList(),
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
    var organisation = links.organisation(key, catalogue);
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
            links.today(catalogue),
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
          PartnerLinks.MAIL,
          "Say your own address at %s: one that ends with @%s."
              .formatted(
                  organisation.name(),
                  String.join(" or @", organisation.mailDomains().stream().sorted().toList())));
    }
    var terms = PartnerLinks.terms(organisation, catalogue);
    if (terms.isPresent() && terms.get().version() != said.acceptedVersion()) {
      throw Refused.mistake(
          "acceptedVersion",
          said.acceptedVersion() == 0
              ? "Read “%s” and accept it.".formatted(terms.get().name())
              : "“%s” has changed since you opened this page; read it again."
                  .formatted(terms.get().name()));
    }
    return PartnerLinks.offers(organisation, catalogue)
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
    PartnerLinks.facts(said, mail, organisation, links.days(organisation, catalogue), catalogue)
        .forEach((fact, text) -> {
          FactDefinition definition = catalogue.facts().get(fact);
          if (definition != null && !text.isEmpty()) {
            definition.type().read(text).ifPresent(value -> values.put(fact, value));
          }
        });
    return new Person(new PersonId(0), new WorkerNumber("P-0"), Facts.of(values), null);
  }
}
