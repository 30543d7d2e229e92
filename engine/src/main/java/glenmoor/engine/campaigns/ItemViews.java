package glenmoor.engine.campaigns;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.Grant.Basis;
import glenmoor.core.access.GrantedBy;
import glenmoor.core.authorization.Actor;
import glenmoor.core.campaigns.HoldingScope;
import glenmoor.core.campaigns.Judgement;
import glenmoor.core.campaigns.Suggestion;
import glenmoor.core.conflicts.ConflictRule;
import glenmoor.core.conflicts.ConflictRuleKind;
import glenmoor.core.requests.Offer;
import glenmoor.core.requests.OfferKind;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.store.campaigns.ItemMapper.ItemRow;
import glenmoor.store.people.FactsJson;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/** Items as people read them. */
@Named
public final class ItemViews {
  /**
   * An item.
   *
   * @param detail what stands beside the person's name
   * @param technical the application's own name for it; empty where it has none
   * @param why how it was given, in a sentence; empty where nothing explains it
   * @param conflicts names of the rules it is a part of, where it is in conflict
   * @param careful whether it is kept only after it was opened
   * @param own whether whoever asks holds it
   */
  public record ItemShown(
      long id,
      long review,
      String worker,
      String person,
      String detail,
      String kind,
      String target,
      String name,
      String technical,
      String application,
      String applicationName,
      String account,
      String why,
      @Nullable Instant since,
      @Nullable Instant lastUsed,
      boolean idle,
      List<String> conflicts,
      String risk,
      boolean privileged,
      @Nullable Integer peers,
      @Nullable Integer peersHolding,
      String before,
      String beforeBy,
      String suggestion,
      List<String> reasons,
      String state,
      String judgement,
      String decidedBy,
      @Nullable Instant decidedAt,
      String reason,
      boolean opened,
      boolean careful,
      int level,
      String first,
      String firstBy,
      @Nullable Instant actsAt,
      String answer,
      @Nullable Instant overAt,
      String handedTo,
      String note,
      int revision,
      boolean own) {}

  private final CampaignConcerns concerns;
  private final Catalogues catalogues;

  ItemViews(CampaignConcerns concerns, Catalogues catalogues) {
    this.concerns = concerns;
    this.catalogues = catalogues;
  }

  List<ItemShown> shown(List<ItemRow> rows, Actor actor) {
    var catalogue = catalogues.current();
    var own = concerns.own(actor);
    return rows.stream()
        .map(row -> shown(row, row.personId() != null && row.personId().equals(own), catalogue))
        .toList();
  }

  private static ItemShown shown(ItemRow row, boolean own, Catalogue catalogue) {
    var right = Optional.ofNullable(catalogue.entitlements().get(row.targetKey()));
    var suggestion = suggestion(row);
    return new ItemShown(
        row.id(),
        row.reviewerId(),
        Optional.ofNullable(row.worker()).orElse(""),
        Optional.ofNullable(row.person()).orElse(""),
        row.facts() == null
            ? ""
            : catalogue.subtitle(FactsJson.read(row.facts(), catalogue.facts())),
        row.kind(),
        row.targetKey(),
        Things.name(row, catalogue),
        right.map(Entitlement::technicalName).orElse(""),
        row.application(),
        Things.application(row, catalogue),
        row.account(),
        why(row, catalogue),
        row.since(),
        row.lastUsed(),
        row.idle(),
        row.conflict() ? rules(row, catalogue) : List.of(),
        Arrays.asList(Entitlement.Risk.values()).get(row.risk()).word(),
        row.risk() >= Entitlement.Risk.HIGH.ordinal(),
        row.peers(),
        row.peersHolding(),
        row.beforeWas(),
        row.beforeBy(),
        suggestion.what().word(),
        suggestion.reasons(),
        row.state(),
        row.judgement(),
        row.decidedBy(),
        row.decidedAt(),
        row.reason(),
        row.opened(),
        ReviewService.careful(row),
        row.level(),
        row.firstWas(),
        row.firstBy(),
        row.actsAt(),
        row.answer(),
        row.overAt(),
        row.handedTo(),
        row.note(),
        row.revision(),
        own);
  }

  private static Suggestion suggestion(ItemRow row) {
    if (row.kind().equals("stray")) {
      return new Suggestion(Suggestion.What.REVOKE, List.of("It is nobody's."));
    }
    if (row.kind().equals("service")) {
      return new Suggestion(
          Suggestion.What.LOOK, List.of("It is for a purpose that somebody answers for."));
    }
    return Suggestion.of(
        new Suggestion.Context(
            row.idle(),
            row.conflict(),
            row.risk() >= Entitlement.Risk.HIGH.ordinal(),
            row.bases() != 0,
            (row.bases() & HoldingScope.bit(Basis.BIRTHRIGHT)) != 0,
            row.peers(),
            row.peersHolding(),
            Judgement.ofWord(row.beforeWas()).orElse(null)));
  }

  private static List<String> rules(ItemRow row, Catalogue catalogue) {
    return catalogue.defined().all(ConflictRuleKind.class).values().stream()
        .filter(rule -> rule.entitlements().stream().anyMatch(key -> touches(row, key, catalogue)))
        .map(ConflictRule::name)
        .toList();
  }

  private static boolean touches(ItemRow row, String key, Catalogue catalogue) {
    return switch (row.kind()) {
      case "package" ->
          Optional.ofNullable(catalogue.packages().get(row.targetKey()))
              .filter(each -> each.entitlements().contains(key))
              .isPresent();
      case "account" -> key.startsWith(row.application() + "/");
      default -> key.equals(row.targetKey());
    };
  }

  /** How it was given, in a sentence. */
  private static String why(ItemRow row, Catalogue catalogue) {
    var bases = HoldingScope.bases(row.bases());
    var colon = row.givenBy().indexOf(':');
    if (row.kind().equals("service")) {
      return "a service account that %s answers for".formatted(row.givenBy().substring(colon + 1));
    }
    if (bases.isEmpty() || colon < 0) {
      return "";
    }
    var by = row.givenBy().substring(colon + 1);
    var first =
        switch (Basis.ofWord(row.givenBy().substring(0, colon))) {
          case BIRTHRIGHT -> "by the rule %s".formatted(by);
          case REQUEST -> "asked for: %s".formatted(offer(by, catalogue));
          case DIRECT -> "given directly: %s".formatted(offer(by, catalogue));
          case DISCOVERED -> "found there and adopted";
        };
    return bases.size() == 1
        ? first
        : first
            + " (and %s)"
                .formatted(
                    bases.stream()
                        .map(Basis::word)
                        .filter(word -> !row.givenBy().startsWith(word))
                        .reduce((one, other) -> one + ", " + other)
                        .orElse(""));
  }

  private static String offer(String basisKey, Catalogue catalogue) {
    return GrantedBy.of(basisKey)
        .map(by ->
            Optional.ofNullable(catalogue.defined().all(OfferKind.class).get(by.offer()))
                .map(Offer::name)
                .orElse(by.offer()))
        .orElse(basisKey);
  }
}
