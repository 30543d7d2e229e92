package glenmoor.engine.partners;

import glenmoor.core.access.Catalogue;
import glenmoor.core.partners.PartnerOrganisation;
import glenmoor.core.partners.PartnerOrganisationKind;
import glenmoor.core.partners.TermsOfUse;
import glenmoor.core.partners.TermsOfUseKind;
import glenmoor.core.people.Facts;
import glenmoor.core.requests.Offer;
import glenmoor.core.requests.OfferKind;
import glenmoor.engine.Refused;
import glenmoor.engine.lifecycle.CountsLater;
import glenmoor.engine.time.Clock;
import jakarta.inject.Named;
import java.time.LocalDate;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;

/** What the link of a partner organisation leads to, and what a record of its people says. */
@Named
final class PartnerLinks {
  static final String MAIL = "mail";
  private static final String SPONSOR = "sponsor";

  private final Clock clock;

  PartnerLinks(Clock clock) {
    this.clock = clock;
  }

  LocalDate today(Catalogue catalogue) {
    return clock.instant().atZone(catalogue.zone()).toLocalDate();
  }

  /**
   * @throws Refused where there is none, or its time is over
   */
  PartnerOrganisation organisation(String key, Catalogue catalogue) {
    return Optional.ofNullable(catalogue.defined().all(PartnerOrganisationKind.class).get(key))
        .filter(each -> each.open(today(catalogue)))
        .orElseThrow(() ->
            Refused.notThere("This link leads nowhere any more; ask whoever sent it to you."));
  }

  /** What has to be accepted; nothing where there is nothing. */
  static Optional<TermsOfUse> terms(PartnerOrganisation of, Catalogue catalogue) {
    return Optional.ofNullable(catalogue.defined().all(TermsOfUseKind.class).get(of.terms()));
  }

  /** What may be asked for as things are now. */
  static Stream<Offer> offers(PartnerOrganisation of, Catalogue catalogue) {
    var all = catalogue.defined().all(OfferKind.class);
    return of.offers().stream()
        .flatMap(key -> Stream.ofNullable(all.get(key)))
        .filter(offer ->
            offer.open()
                && Optional.ofNullable(catalogue.packages().get(offer.rolePackage()))
                    .filter(each -> each.retired().isEmpty())
                    .isPresent());
  }

  /** From when until when they are here. */
  CountsLater.Days days(PartnerOrganisation organisation, Catalogue catalogue) {
    return new CountsLater.Days(today(catalogue), organisation.until());
  }

  /** What their record says. */
  static Map<String, String> facts(
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
}
