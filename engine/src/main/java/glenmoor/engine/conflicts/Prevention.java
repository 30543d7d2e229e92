package glenmoor.engine.conflicts;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.conflicts.ConflictRule;
import glenmoor.core.conflicts.ConflictRuleKind;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.engine.access.Revoking;
import glenmoor.engine.ledger.Ledger;
import glenmoor.store.Ids;
import glenmoor.store.conflicts.ExemptionMapper;
import glenmoor.store.conflicts.ExemptionMapper.ExemptionRow;
import glenmoor.store.people.PersonRow;
import jakarta.inject.Named;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Finds conflicts before they come to be: with all that somebody holds or is to hold, whenever. It
 * reads the grants in the caller's transaction, so that its answer is right to the row.
 */
@Named
public final class Prevention {
  private final Revoking revoking;
  private final ExemptionMapper exemptions;
  private final Ledger ledger;
  private final Ids ids;

  Prevention(Revoking revoking, ExemptionMapper exemptions, Ledger ledger, Ids ids) {
    this.revoking = revoking;
    this.exemptions = exemptions;
    this.ledger = ledger;
    this.ids = ids;
  }

  /**
   * The rules that somebody would break with something more; those they are exempt from for all of
   * its time do not count.
   *
   * @param less the basis key of what they would hold no longer; empty for nothing
   * @param until when what is more ends; null for never
   */
  public List<ConflictRule> caused(
      long person,
      String less,
      Set<String> more,
      @Nullable Instant until,
      Catalogue catalogue,
      Instant now) {
    var rules = catalogue.defined().all(ConflictRuleKind.class).values();
    if (rules.isEmpty()) {
      return List.of();
    }
    var held =
        revoking.held(List.of(person), now).getOrDefault(person, List.of()).stream()
            .filter(grant -> less.isEmpty() || !grant.basisKey().equals(less))
            .flatMap(catalogue::given)
            .map(Entitlement::key)
            .collect(Collectors.toSet());
    var found = ConflictRule.caused(rules, held, more);
    if (found.isEmpty()) {
      return found;
    }
    var exempt =
        exemptions.inForce(person, now).stream()
            .filter(each -> until != null && !until.isAfter(each.untilAt()))
            .map(ExemptionRow::ruleKey)
            .collect(Collectors.toSet());
    return found.stream().filter(rule -> !exempt.contains(rule.key())).toList();
  }

  /**
   * On what terms a conflict is allowed.
   *
   * @param control what is done in the place of separating the duties
   */
  public record Terms(String reason, String control, String by, Instant until, long line) {}

  /** Exempts somebody from rules, inside the caller's transaction. */
  public void exempt(PersonRow person, List<ConflictRule> rules, Terms terms, Instant now) {
    if (rules.isEmpty()) {
      return;
    }
    exemptions.insert(
        rules.stream()
            .map(rule ->
                new ExemptionRow(
                    ids.next(),
                    person.id(),
                    rule.key(),
                    terms.reason(),
                    terms.control(),
                    terms.by(),
                    now,
                    terms.until(),
                    terms.line(),
                    null))
            .toList());
    for (var rule : rules) {
      ledger.append(
          new LedgerEntry(
              now,
              terms.by(),
              "line:" + terms.line(),
              "person:" + person.workerNumber(),
              "exempted",
              Map.of(),
              Map.of(
                  "rule", rule.key(),
                  "control", terms.control(),
                  "reason", terms.reason(),
                  "until", terms.until().toString())));
    }
  }
}
