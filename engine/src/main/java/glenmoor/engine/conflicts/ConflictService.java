package glenmoor.engine.conflicts;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.Grant;
import glenmoor.core.authorization.Actor;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.engine.Refused;
import glenmoor.engine.StatedReason;
import glenmoor.engine.access.GivingGrants;
import glenmoor.engine.access.Granting;
import glenmoor.engine.access.Revoking;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Ids;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.conflicts.ConflictMapper.ConflictRow;
import glenmoor.store.conflicts.ExemptionMapper;
import glenmoor.store.conflicts.ExemptionMapper.ExemptionRow;
import glenmoor.store.people.PersonMapper;
import jakarta.inject.Named;
import java.time.LocalDate;
import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;
import java.util.stream.Stream;

/** Settles conflicts: by ending a side, or by an exemption. */
@Named
public final class ConflictService {
  private static final int MOST_AT_ONCE = 200;

  /**
   * What ending a right would take: plain names.
   *
   * @param grants that end
   * @param rights that go
   * @param carved packages that rules give, and that the right is carved out of
   */
  public record WouldEnd(List<String> grants, List<String> rights, List<String> carved) {}

  /** What became of one of several. */
  public record Settled(long id, boolean done, String sentence) {}

  /** On what terms conflicts are allowed. */
  public record Terms(String reason, String control, LocalDate until) {}

  private final ExemptionMapper exemptions;
  private final GrantMapper grants;
  private final PersonMapper people;
  private final ConflictConcerns concerns;
  private final Granting granting;
  private final Revoking revoking;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Ids ids;
  private final Clock clock;

  ConflictService(
      ExemptionMapper exemptions,
      GrantMapper grants,
      PersonMapper people,
      ConflictConcerns concerns,
      Granting granting,
      Revoking revoking,
      Catalogues catalogues,
      Transactions transactions,
      Ledger ledger,
      Ids ids,
      Clock clock) {
    this.exemptions = exemptions;
    this.grants = grants;
    this.people = people;
    this.concerns = concerns;
    this.granting = granting;
    this.revoking = revoking;
    this.catalogues = catalogues;
    this.transactions = transactions;
    this.ledger = ledger;
    this.ids = ids;
    this.clock = clock;
  }

  /**
   * What ending one right would take besides.
   *
   * @throws Refused if it cannot be ended
   */
  public WouldEnd wouldEnd(long id, String entitlement, Actor actor) {
    var catalogue = catalogues.current();
    var row = concerns.row(id, actor);
    var giving = giving(row, entitlement, actor, catalogue);
    return new WouldEnd(
        giving.stream()
            .filter(each -> !GivingGrants.byRule(each))
            .map(each -> catalogue.name(each.target()))
            .distinct()
            .toList(),
        giving.stream()
            .flatMap(each ->
                GivingGrants.byRule(each)
                    ? Stream.of(catalogue.entitlements().get(entitlement))
                    : catalogue.given(each))
            .map(Entitlement::plainName)
            .distinct()
            .sorted()
            .toList(),
        giving.stream()
            .filter(GivingGrants::byRule)
            .map(each -> catalogue.name(each.target()))
            .distinct()
            .toList());
  }

  /**
   * Ends everything that gives one right, so that this side of the conflict goes. What a rule gives
   * is carved out: the rule gives the rest, and does not give this back.
   *
   * @throws Refused if the actor may not, or nothing gives it
   */
  public void end(long id, String entitlement, String reason, Actor actor) {
    var said = new StatedReason(reason).text().strip();
    transactions.run(() -> {
      var row = concerns.row(id, actor);
      var person = people.lock(List.of(row.personId())).getFirst();
      var catalogue = catalogues.current();
      var now = clock.instant();
      var cause = "conflict:" + id;
      var done = new HashSet<String>();
      var giving = giving(row, entitlement, actor, catalogue);
      for (var grant : giving) {
        if (!GivingGrants.byRule(grant)
            && done.add(grant.basis() + grant.basisKey() + grant.target().key())) {
          granting.end(
              person,
              Objects.requireNonNull(grants.byId(grant.id())),
              now,
              said,
              actor.login(),
              cause,
              now);
        }
      }
      // Whatever gives it now, no rule shall give it back later.
      revoking.revoke(
          List.of(new Revoking.Taken(person, Set.of(entitlement), Set.of())),
          new Revoking.Decision(said, actor.login(), cause, now, now),
          now);
    });
  }

  private List<Grant> giving(
      ConflictRow row, String entitlement, Actor actor, Catalogue catalogue) {
    if (!concerns.ends(row, actor)) {
      throw new Refused(
          Refused.Reason.NOT_ALLOWED,
          "A side is ended by who answers for the rule, by the manager, or by who holds it.");
    }
    var rule = Objects.requireNonNull(concerns.rules().get(row.ruleKey()));
    var right = catalogue.entitlements().get(entitlement);
    if (right == null || !rule.entitlements().contains(entitlement)) {
      throw Refused.badInput("“%s” is no part of “%s”.".formatted(entitlement, rule.name()));
    }
    var held =
        revoking
            .held(List.of(row.personId()), clock.instant())
            .getOrDefault(row.personId(), List.of());
    var giving = GivingGrants.of(right, held, catalogue);
    if (giving.isEmpty()) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "Nothing gives “%s” any more: it is on its way out, or it is drift."
              .formatted(right.plainName()));
    }
    return giving;
  }

  /** Allows conflicts until the end of a day; what could not be allowed says why. */
  public List<Settled> exempt(Collection<Long> which, Terms terms, Actor actor) {
    if (which.isEmpty() || which.size() > MOST_AT_ONCE) {
      throw Refused.badInput(
          "From 1 to %d at once; these are %d.".formatted(MOST_AT_ONCE, which.size()));
    }
    new StatedReason(terms.reason());
    if (terms.control().isBlank() || terms.control().length() > StatedReason.LONGEST) {
      throw Refused.badInput(
          "Say what is done in the place of separating the duties, in at most %,d characters."
              .formatted(StatedReason.LONGEST));
    }
    return which.stream()
        .distinct()
        .map(id -> {
          try {
            transactions.run(() -> exempt(id, terms, actor));
            return new Settled(id, true, "");
          } catch (Refused refused) {
            return new Settled(id, false, String.valueOf(refused.getMessage()));
          }
        })
        .toList();
  }

  private void exempt(long id, Terms terms, Actor actor) {
    var row = concerns.row(id, actor);
    if (!concerns.exempts(row, actor)) {
      throw new Refused(
          Refused.Reason.NOT_ALLOWED,
          "It is allowed by who answers for the rule, and by nobody for themselves.");
    }
    var rule = Objects.requireNonNull(concerns.rules().get(row.ruleKey()));
    var now = clock.instant();
    var zone = catalogues.zone();
    var today = now.atZone(zone).toLocalDate();
    if (terms.until().isBefore(today)
        || terms.until().isAfter(today.plusDays(rule.longestDays()))) {
      throw Refused.badInput(
          "%s is not possible: it is allowed from today to %s at the latest."
              .formatted(terms.until(), today.plusDays(rule.longestDays())));
    }
    if (row.exemptUntil() != null) {
      throw new Refused(
          Refused.Reason.NOT_NOW, "It is allowed already, by %s.".formatted(row.exemptBy()));
    }
    var until = terms.until().plusDays(1).atStartOfDay(zone).toInstant();
    var exemption =
        new ExemptionRow(
            ids.next(),
            row.personId(),
            rule.key(),
            terms.reason().strip(),
            terms.control().strip(),
            actor.login(),
            now,
            until,
            null,
            null);
    exemptions.insert(List.of(exemption));
    ledger.append(
        new LedgerEntry(
            now,
            actor.login(),
            "conflict:" + id,
            "person:" + row.worker(),
            "exempted",
            Map.of(),
            Map.of(
                "rule",
                rule.key(),
                "control",
                exemption.control(),
                "reason",
                exemption.reason(),
                "until",
                until.toString())));
  }
}
