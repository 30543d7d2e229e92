package glenmoor.engine.conflicts;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Entitlement;
import glenmoor.core.access.Grant;
import glenmoor.core.access.Grant.Basis;
import glenmoor.core.access.RolePackage;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;
import glenmoor.core.conflicts.ConflictRule;
import glenmoor.core.conflicts.ConflictRuleKind;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.people.FactDefinition;
import glenmoor.core.people.FactDefinition.Shown;
import glenmoor.core.people.Facts;
import glenmoor.core.people.WorkerNumber;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.StatedReason;
import glenmoor.engine.access.Granting;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.definitions.DefinitionDrafts;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.Ids;
import glenmoor.store.access.GrantMapper;
import glenmoor.store.access.GrantMapper.GrantRow;
import glenmoor.store.conflicts.ConflictMapper;
import glenmoor.store.conflicts.ConflictMapper.Cell;
import glenmoor.store.conflicts.ConflictMapper.ConflictRow;
import glenmoor.store.conflicts.ExemptionMapper;
import glenmoor.store.conflicts.ExemptionMapper.ExemptionRow;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.provisioning.AccountMapper;
import glenmoor.store.provisioning.AccountMapper.AccountRow;
import glenmoor.store.provisioning.AccountMapper.HoldingRow;
import glenmoor.store.usage.UsageMapper;
import jakarta.inject.Named;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Conflicts there are, for those who answer for their rules and for managers of whom they concern:
 * seen with how each side came about, settled by ending a side or by an exemption.
 */
@Named
public final class ConflictService {
  private static final int MOST_AT_ONCE = 200;

  /** A conflict in a list. */
  public record ConflictListed(
      long id,
      String worker,
      String person,
      String detail,
      String rule,
      String ruleName,
      Instant since,
      String state,
      @Nullable Instant exemptUntil) {}

  /**
   * A grant that gives one side of it.
   *
   * @param name of the package or the right
   * @param by the rule or the offer it came by
   * @param endable whether it can be ended; what a rule gives cannot
   */
  public record Giving(
      long grant,
      String name,
      String basis,
      String by,
      Instant from,
      @Nullable Instant to,
      boolean endable) {}

  /**
   * One right that is a part of it.
   *
   * @param side from 1; 1 for all where the rule counts a set
   * @param since when it was seen there first; null while it was not
   */
  public record Part(
      int side,
      String entitlement,
      String name,
      String application,
      String account,
      @Nullable Instant since,
      @Nullable Instant lastUsed,
      List<Giving> giving) {}

  /**
   * A conflict with all there is to see.
   *
   * @param exempts whether the actor may allow it
   * @param ends whether the actor may end a side
   */
  public record ConflictShown(
      ConflictListed conflict,
      String risk,
      List<String> controls,
      int longestDays,
      String exemptBy,
      String exemptControl,
      List<Part> parts,
      boolean exempts,
      boolean ends) {}

  /** How many break a rule in a group; {@code group} is empty where the fact has no value. */
  public record MatrixCell(String rule, String group, int open, int exempt) {}

  /** Rules down, groups across. */
  public record Matrix(String groupedBy, List<RuleListed> rules, List<MatrixCell> cells) {}

  /** A rule. */
  public record RuleListed(
      String key, String name, String risk, @Nullable LocalDate from, int longestDays) {}

  /** What ending a right would take: plain names. */
  public record WouldEnd(List<String> grants, List<String> rights) {}

  /** What became of one of several. */
  public record Settled(long id, boolean done, String sentence) {}

  /** For how many a rule that is being written would be broken, by group. */
  public record RuleTried(String groupedBy, int people, List<MatrixCell> cells) {}

  private final ConflictMapper conflicts;
  private final ExemptionMapper exemptions;
  private final GrantMapper grants;
  private final PersonMapper people;
  private final AccountMapper accounts;
  private final UsageMapper usage;
  private final Granting granting;
  private final ConflictsFound found;
  private final DefinitionDrafts drafts;
  private final Catalogues catalogues;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Ids ids;
  private final Clock clock;

  ConflictService(
      ConflictMapper conflicts,
      ExemptionMapper exemptions,
      GrantMapper grants,
      PersonMapper people,
      AccountMapper accounts,
      UsageMapper usage,
      Granting granting,
      ConflictsFound found,
      DefinitionDrafts drafts,
      Catalogues catalogues,
      Transactions transactions,
      Ledger ledger,
      Ids ids,
      Clock clock) {
    this.conflicts = conflicts;
    this.exemptions = exemptions;
    this.grants = grants;
    this.people = people;
    this.accounts = accounts;
    this.usage = usage;
    this.granting = granting;
    this.found = found;
    this.drafts = drafts;
    this.catalogues = catalogues;
    this.transactions = transactions;
    this.ledger = ledger;
    this.ids = ids;
    this.clock = clock;
  }

  // ---- who may

  private static boolean sees(ConflictRule rule, Actor actor) {
    return actor.may(Permission.SEE_CONFLICTS)
        || actor.may(Permission.SEE_CONFLICTS, Scope.conflictRule(rule.key()));
  }

  private static String own(Actor actor) {
    return WorkerNumber.key(Objects.requireNonNullElse(actor.worker(), ""));
  }

  private boolean isManager(ConflictRow row, Actor actor) {
    var facts = FactsJson.read(row.facts(), catalogues.current().facts());
    return !own(actor).isEmpty() && own(actor).equals(WorkerNumber.key(facts.text(Facts.MANAGER)));
  }

  private static boolean isOwn(ConflictRow row, Actor actor) {
    return !own(actor).isEmpty() && own(actor).equals(WorkerNumber.key(row.worker()));
  }

  /** Nobody allows what they would gain by. */
  private boolean exempts(ConflictRow row, Actor actor) {
    return !isOwn(row, actor)
        && (actor.may(Permission.EXEMPT)
            || actor.may(Permission.EXEMPT, Scope.conflictRule(row.ruleKey())));
  }

  private boolean ends(ConflictRow row, Actor actor) {
    return exempts(row, actor)
        || isManager(row, actor)
        || isOwn(row, actor)
        || actor.may(Permission.END_GRANTS);
  }

  private Map<String, ConflictRule> rules() {
    return catalogues.current().defined().all(ConflictRuleKind.class);
  }

  private ConflictRow row(long id, Actor actor) {
    var row = conflicts.byId(id, clock.instant());
    var rule = row == null ? null : rules().get(row.ruleKey());
    if (row == null
        || rule == null
        || row.endedAt() != null
        || !sees(rule, actor) && !ends(row, actor)) {
      throw Refused.notThere(
          "There is no conflict %d that concerns you, or it is over.".formatted(id));
    }
    return row;
  }

  // ---- what there is

  /**
   * Conflicts that are not over: those of rules that the actor answers for or sees, else those of
   * people who report to them.
   *
   * @param state open or exempt; null for both
   * @param group only of this group of people; null for all
   */
  public List<ConflictListed> list(
      @Nullable String rule,
      @Nullable String worker,
      @Nullable String state,
      @Nullable String group,
      long before,
      int limit,
      Actor actor) {
    var all = rules();
    var seen = all.values().stream().filter(each -> sees(each, actor)).toList();
    var asManager = seen.isEmpty();
    var keys =
        (asManager ? all.values() : seen)
            .stream()
                .map(ConflictRule::key)
                .filter(key -> rule == null || key.equals(rule))
                .toList();
    var person = worker == null ? null : people.byWorker(worker);
    if (keys.isEmpty() || worker != null && person == null || asManager && own(actor).isEmpty()) {
      return List.of();
    }
    return conflicts
        .list(
            keys,
            person == null ? null : person.id(),
            asManager ? own(actor) : null,
            state,
            group,
            groupedBy().orElse(""),
            clock.instant(),
            before,
            limit)
        .stream()
        .map(this::listed)
        .toList();
  }

  private Optional<String> groupedBy() {
    return catalogues.current().shown(Shown.GROUPING).stream().findFirst().map(FactDefinition::key);
  }

  private String groupName() {
    return catalogues.current().shown(Shown.GROUPING).stream()
        .findFirst()
        .map(FactDefinition::name)
        .orElse("");
  }

  private ConflictListed listed(ConflictRow row) {
    var catalogue = catalogues.current();
    return new ConflictListed(
        row.id(),
        row.worker(),
        row.person(),
        catalogue.subtitle(FactsJson.read(row.facts(), catalogue.facts())),
        row.ruleKey(),
        Optional.ofNullable(rules().get(row.ruleKey()))
            .map(ConflictRule::name)
            .orElse(row.ruleKey()),
        row.foundAt(),
        row.exemptUntil() == null ? "open" : "exempt",
        row.exemptUntil());
  }

  /** How many there are of each rule that the actor sees, by what groups people here. */
  public Matrix matrix(Actor actor) {
    var seen = rules().values().stream().filter(each -> sees(each, actor)).toList();
    var groupedBy = groupedBy();
    return new Matrix(
        groupName(),
        seen.stream().map(ConflictService::listed).toList(),
        seen.isEmpty()
            ? List.of()
            : cells(
                conflicts.matrix(
                    seen.stream().map(ConflictRule::key).toList(),
                    groupedBy.orElse(""),
                    clock.instant())));
  }

  private static List<MatrixCell> cells(List<Cell> cells) {
    return cells.stream()
        .map(each -> new MatrixCell(each.ruleKey(), each.value(), each.open(), each.exempt()))
        .toList();
  }

  private static RuleListed listed(ConflictRule rule) {
    return new RuleListed(
        rule.key(), rule.name(), rule.risk(), rule.from().orElse(null), rule.longestDays());
  }

  /**
   * For how many a rule that is being written would be broken as people are now.
   *
   * @throws Refused with every mistake in it, if there is any
   */
  public RuleTried trial(String key, String text, Actor actor) {
    Authorization.need(actor, Permission.SEE_DEFINITIONS);
    var rule = drafts.with(text, actor).defined().all(ConflictRuleKind.class).get(key);
    if (rule == null) {
      throw Refused.badInput("The text defines no conflict-rule: %s.".formatted(key));
    }
    var groupedBy = groupedBy();
    var cells = found.trial(rule, groupedBy.orElse(""));
    return new RuleTried(groupName(), cells.stream().mapToInt(Cell::open).sum(), cells(cells));
  }

  /** Looks for conflicts now, for those who answer for some. */
  public void lookNow(Actor actor) {
    Authorization.needSomewhere(actor, Permission.EXEMPT);
    found.lookNow();
  }

  /**
   * One of them, with how each side came about.
   *
   * @throws Refused as if there were none where it does not concern the actor
   */
  public ConflictShown show(long id, Actor actor) {
    var row = row(id, actor);
    var rule = Objects.requireNonNull(rules().get(row.ruleKey()));
    return new ConflictShown(
        listed(row),
        rule.risk(),
        rule.controls(),
        rule.longestDays(),
        Objects.requireNonNullElse(row.exemptBy(), ""),
        Objects.requireNonNullElse(row.exemptControl(), ""),
        parts(row, rule),
        exempts(row, actor),
        ends(row, actor));
  }

  private List<Part> parts(ConflictRow row, ConflictRule rule) {
    var catalogue = catalogues.current();
    var now = clock.instant();
    var owned =
        accounts.of(List.of(row.personId())).stream()
            .collect(Collectors.toMap(AccountRow::id, each -> each));
    if (owned.isEmpty()) {
      return List.of();
    }
    var uses = new HashMap<String, Instant>();
    usage.of(owned.keySet()).forEach(each -> uses.put(each.entitlement(), each.lastUsed()));
    var lasting = grants.lasting(List.of(row.personId()), now);
    var parts = new ArrayList<Part>();
    for (HoldingRow holding : accounts.holdings(List.copyOf(owned.keySet()))) {
      var entitlement = catalogue.entitlements().get(holding.entitlement());
      if (entitlement != null
          && (holding.desired() || holding.observed())
          && rule.entitlements().contains(entitlement.key())) {
        parts.add(
            new Part(
                side(rule, entitlement.key()),
                entitlement.key(),
                entitlement.plainName(),
                catalogue.application(entitlement.application()).name(),
                Objects.requireNonNull(owned.get(holding.accountId())).name(),
                holding.observedSince(),
                uses.get(entitlement.key()),
                giving(entitlement, lasting, catalogue).stream()
                    .map(grant -> giving(grant, catalogue))
                    .toList()));
      }
    }
    parts.sort((one, other) -> Integer.compare(one.side(), other.side()));
    return parts;
  }

  private static int side(ConflictRule rule, String entitlement) {
    for (var i = 0; i < rule.sides().size(); i++) {
      if (rule.sides().get(i).contains(entitlement)) {
        return i + 1;
      }
    }
    return 1;
  }

  private static Grant.Target target(GrantRow row) {
    return row.targetKind().equals("package")
        ? new Grant.Target.OfPackage(row.targetKey())
        : new Grant.Target.OfEntitlement(row.targetKey());
  }

  private static List<GrantRow> giving(
      Entitlement entitlement, List<GrantRow> lasting, Catalogue catalogue) {
    return lasting.stream()
        .filter(grant ->
            catalogue.given(target(grant)).anyMatch(each -> each.key().equals(entitlement.key())))
        .toList();
  }

  private static boolean endable(GrantRow grant) {
    return !grant.basis().equals(Basis.BIRTHRIGHT.word());
  }

  private static String name(GrantRow grant, Catalogue catalogue) {
    return Optional.ofNullable(catalogue.packages().get(grant.targetKey()))
        .map(RolePackage::name)
        .or(() ->
            Optional.ofNullable(catalogue.entitlements().get(grant.targetKey()))
                .map(Entitlement::plainName))
        .orElse(grant.targetKey());
  }

  private static Giving giving(GrantRow grant, Catalogue catalogue) {
    return new Giving(
        grant.id(),
        name(grant, catalogue),
        grant.basis(),
        grant.basisKey().replaceFirst("#.*", ""),
        grant.startsAt(),
        grant.endsAt(),
        endable(grant));
  }

  // ---- settling

  /**
   * What ending one right would take besides.
   *
   * @throws Refused if it cannot be ended
   */
  public WouldEnd wouldEnd(long id, String entitlement, Actor actor) {
    var catalogue = catalogues.current();
    var grantsOf = endable(row(id, actor), entitlement, actor, catalogue);
    return new WouldEnd(
        grantsOf.stream().map(each -> name(each, catalogue)).distinct().toList(),
        grantsOf.stream()
            .flatMap(each -> catalogue.given(target(each)))
            .map(Entitlement::plainName)
            .distinct()
            .sorted()
            .toList());
  }

  /**
   * Ends everything that gives one right, so that this side of the conflict goes.
   *
   * @throws Refused if the actor may not, or a rule gives it
   */
  public void end(long id, String entitlement, String reason, Actor actor) {
    var said = new StatedReason(reason).text().strip();
    transactions.run(() -> {
      var row = row(id, actor);
      var person = people.lock(List.of(row.personId())).getFirst();
      var catalogue = catalogues.current();
      var now = clock.instant();
      var done = new HashSet<String>();
      for (var grant : endable(row, entitlement, actor, catalogue)) {
        if (done.add(grant.basis() + grant.basisKey() + grant.targetKey())) {
          granting.end(person, grant, now, said, actor.login(), "conflict:" + id, now);
        }
      }
    });
  }

  private List<GrantRow> endable(
      ConflictRow row, String entitlement, Actor actor, Catalogue catalogue) {
    if (!ends(row, actor)) {
      throw new Refused(
          Refused.Reason.NOT_ALLOWED,
          "A side is ended by who answers for the rule, by the manager, or by who holds it.");
    }
    var rule = Objects.requireNonNull(rules().get(row.ruleKey()));
    var right = catalogue.entitlements().get(entitlement);
    if (right == null || !rule.entitlements().contains(entitlement)) {
      throw Refused.badInput("“%s” is no part of “%s”.".formatted(entitlement, rule.name()));
    }
    var giving = giving(right, grants.lasting(List.of(row.personId()), clock.instant()), catalogue);
    var byRule = giving.stream().filter(each -> !endable(each)).findFirst();
    if (byRule.isPresent()) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "The rule %s gives “%s” with “%s”, and would give it again: end the other side, or change whom the rule is for."
              .formatted(
                  byRule.get().basisKey(), right.plainName(), name(byRule.get(), catalogue)));
    }
    if (giving.isEmpty()) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "Nothing gives “%s” any more: it is on its way out, or it is drift."
              .formatted(right.plainName()));
    }
    return giving;
  }

  /** On what terms conflicts are allowed. */
  public record Terms(String reason, String control, LocalDate until) {}

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
    var row = row(id, actor);
    if (!exempts(row, actor)) {
      throw new Refused(
          Refused.Reason.NOT_ALLOWED,
          "It is allowed by who answers for the rule, and by nobody for themselves.");
    }
    var rule = Objects.requireNonNull(rules().get(row.ruleKey()));
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
