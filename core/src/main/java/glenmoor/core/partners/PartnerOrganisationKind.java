package glenmoor.core.partners;

import com.google.auto.service.AutoService;
import glenmoor.core.definitions.Concern;
import glenmoor.core.definitions.Defined;
import glenmoor.core.definitions.DefinitionKind;
import glenmoor.core.definitions.Reading;
import glenmoor.core.definitions.Tree;
import glenmoor.core.letters.Letter;
import glenmoor.core.letters.LetterKind;
import glenmoor.core.lifecycle.Source;
import glenmoor.core.lifecycle.SourceKind;
import glenmoor.core.people.FactKind;
import glenmoor.core.people.Facts;
import glenmoor.core.people.WorkerNumber;
import glenmoor.core.requests.Offer;
import glenmoor.core.requests.OfferKind;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** {@code partner-organisation: lunna}: an outside body whose people may ask for access. */
@AutoService(DefinitionKind.class)
public final class PartnerOrganisationKind implements DefinitionKind<PartnerOrganisation> {
  /** What somebody says themselves, or what follows from the organisation. */
  private static final Set<String> OWN = Set.of(Facts.START, Facts.END, Facts.GIVEN, Facts.FAMILY);

  private static final String DOMAIN = "[a-z0-9]([a-z0-9-]{0,62})(\\.[a-z0-9]([a-z0-9-]{0,62}))+";

  @Override
  public String word() {
    return "partner-organisation";
  }

  @Override
  public KeyRule keys() {
    return PLAIN_KEY;
  }

  @Override
  public Set<String> refersTo() {
    return Set.of("fact", "letter", "offer", "source", "terms");
  }

  @Override
  public Concern concern(String key) {
    return Concern.NOBODY;
  }

  @Override
  public Optional<PartnerOrganisation> read(String key, Reading reading, Defined known) {
    return Optional.of(
        new PartnerOrganisation(
            key,
            reading.text("name", key),
            domains(reading),
            until(reading),
            sponsor(reading),
            source(reading, known),
            offers(reading, known),
            terms(reading, known),
            letter(reading, known),
            facts(reading, known)));
  }

  private static Set<String> domains(Reading reading) {
    var texts = reading.texts("mail-domains");
    if (texts.isEmpty()) {
      reading.problem(
          reading.place("mail-domains"),
          "mail-domains is empty: say the domains that its people have addresses in, such as lunna.example.");
    }
    for (var each : texts) {
      if (!each.value().toLowerCase(Locale.ROOT).matches(DOMAIN)) {
        reading.problem(
            each.place(),
            "“%s” is no domain of addresses, such as lunna.example.".formatted(each.value()));
      }
    }
    return texts.stream()
        .map(each -> each.value().toLowerCase(Locale.ROOT))
        .collect(Collectors.toUnmodifiableSet());
  }

  private static LocalDate until(Reading reading) {
    var text = reading.needed("until", "the last day on which its people may be here");
    try {
      return LocalDate.parse(text);
    } catch (DateTimeException noDay) {
      if (!text.isEmpty()) {
        reading.problem(
            reading.place("until"), "until is “%s”; write a day as 2027-12-31.".formatted(text));
      }
      return LocalDate.MIN;
    }
  }

  private static String sponsor(Reading reading) {
    var text = reading.needed("sponsor", "the worker number of who answers for its people");
    if (!text.isEmpty() && WorkerNumber.read(text).isEmpty()) {
      reading.problem(
          reading.place("sponsor"), "“%s” is not %s.".formatted(text, WorkerNumber.EXPECTED));
    }
    return text;
  }

  private static String source(Reading reading, Defined known) {
    var named = reading.needed("source", "the source that holds their records");
    var found = known.all(SourceKind.class).get(named);
    if (!named.isEmpty() && (found == null || !found.form() || found.numbers().isEmpty())) {
      reading.problem(
          reading.place("source"),
          "The records of its people are written here, so source names a source with form: yes and numbers; there are %s."
              .formatted(
                  known.all(SourceKind.class).values().stream()
                      .filter(each -> each.form() && each.numbers().isPresent())
                      .map(Source::key)
                      .collect(Collectors.joining(", "))));
    }
    return named;
  }

  private static List<String> offers(Reading reading, Defined known) {
    var offers = known.all(OfferKind.class);
    var texts = reading.texts("offers");
    if (texts.isEmpty()) {
      reading.problem(
          reading.place("offers"), "offers is empty: say what can be asked for by its link.");
    }
    for (var each : texts) {
      var offer = offers.get(each.value());
      if (offer == null) {
        reading.problem(each.place(), "There is no offer “%s”.".formatted(each.value()));
      } else if (!offer.askedBy().contains(Offer.Asker.PERSON)) {
        reading.problem(
            each.place(),
            "The offer %s is not asked for by the person themselves (asked-by), so it cannot be asked for by link."
                .formatted(each.value()));
      }
    }
    return texts.stream().map(Tree.Text::value).distinct().toList();
  }

  private static String terms(Reading reading, Defined known) {
    var named = reading.text("terms", "");
    var all = known.all(TermsOfUseKind.class).keySet();
    if (!named.isEmpty() && !all.contains(named)) {
      reading.problem(
          reading.place("terms"),
          "There are no terms “%s”; there are %s.".formatted(named, String.join(", ", all)));
    }
    return named;
  }

  private static String letter(Reading reading, Defined known) {
    var named = reading.needed("letter", "the letter that confirms an address");
    var letters = known.all(LetterKind.class);
    if (!named.isEmpty()
        && Optional.ofNullable(letters.get(named)).filter(Letter::leadsToDecision).isEmpty()) {
      reading.problem(
          reading.place("letter"),
          "letter names a letter that says {{link}}: the way to confirm an address; there is no such letter “%s”."
              .formatted(named));
    }
    return named;
  }

  private static Map<String, String> facts(Reading reading, Defined known) {
    var said = new LinkedHashMap<String, String>();
    var all = known.all(FactKind.class).keySet();
    reading
        .map("facts")
        .forEach((fact, tree) -> {
          if (!all.contains(fact) || OWN.contains(fact)) {
            reading.problem(
                tree.place(),
                OWN.contains(fact)
                    ? "%s is not said here: it follows from who asks, and from until."
                        .formatted(fact)
                    : "There is no fact “%s”.".formatted(fact));
          }
          said.put(fact, String.valueOf(tree.plain()));
        });
    return said;
  }
}
