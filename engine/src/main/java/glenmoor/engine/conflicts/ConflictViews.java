package glenmoor.engine.conflicts;

import glenmoor.core.access.Catalogue;
import glenmoor.core.access.Grant;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.conflicts.ConflictRule;
import glenmoor.core.conflicts.ConflictRuleKind;
import glenmoor.core.people.FactDefinition;
import glenmoor.core.people.WorkerNumber;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.access.GivingGrants;
import glenmoor.engine.access.Revoking;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.definitions.DefinitionDrafts;
import glenmoor.engine.time.Clock;
import glenmoor.store.conflicts.ConflictMapper;
import glenmoor.store.conflicts.ConflictMapper.Cell;
import glenmoor.store.conflicts.ConflictMapper.ConflictRow;
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
import java.util.HashMap;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Conflicts there are, for those who answer for their rules and for managers of whom they concern:
 * seen with how each side came about.
 */
@Named
public final class ConflictViews {
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
   * @param byRule whether a rule gives it: then the right is carved out of it, and it stays
   */
  public record Giving(
      long grant,
      String name,
      String basis,
      String by,
      Instant from,
      @Nullable Instant to,
      boolean byRule) {}

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

  /** For how many a rule that is being written would be broken, by group. */
  public record RuleTried(String groupedBy, int people, List<MatrixCell> cells) {}

  private final ConflictMapper conflicts;
  private final Revoking revoking;
  private final PersonMapper people;
  private final AccountMapper accounts;
  private final UsageMapper usage;
  private final ConflictConcerns concerns;
  private final ConflictsFound found;
  private final DefinitionDrafts drafts;
  private final Catalogues catalogues;
  private final Clock clock;

  ConflictViews(
      ConflictMapper conflicts,
      Revoking revoking,
      PersonMapper people,
      AccountMapper accounts,
      UsageMapper usage,
      ConflictConcerns concerns,
      ConflictsFound found,
      DefinitionDrafts drafts,
      Catalogues catalogues,
      Clock clock) {
    this.conflicts = conflicts;
    this.revoking = revoking;
    this.people = people;
    this.accounts = accounts;
    this.usage = usage;
    this.concerns = concerns;
    this.found = found;
    this.drafts = drafts;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  /**
   * Conflicts that are not over: those of rules that the actor answers for or sees, and those of
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
    var all = concerns.rules();
    var seen = seen(actor).stream().map(ConflictRule::key).toList();
    var own = WorkerNumber.keyOrNone(actor.worker());
    // Whoever sees every rule needs nothing more of the people who report to them.
    var asManager = seen.size() < all.size() && !own.isEmpty();
    var keys =
        (asManager ? all.keySet() : seen)
            .stream().filter(key -> rule == null || key.equals(rule)).toList();
    var person = worker == null ? null : people.byWorker(worker);
    if (keys.isEmpty() || worker != null && person == null) {
      return List.of();
    }
    return conflicts
        .list(
            keys,
            person == null ? null : person.id(),
            asManager ? own : null,
            asManager ? seen : List.of(),
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

  /**
   * How many are open that wait for somebody as a manager, or who answers for a rule; those who see
   * all have a page for that.
   */
  public int waiting(int most, Actor actor) {
    return actor.may(Permission.SEE_CONFLICTS)
        ? 0
        : list(null, null, "open", null, Long.MAX_VALUE, most, actor).size();
  }

  private List<ConflictRule> seen(Actor actor) {
    return concerns.rules().values().stream()
        .filter(each -> ConflictConcerns.sees(each, actor))
        .toList();
  }

  private Optional<String> groupedBy() {
    return catalogues.current().grouping().map(FactDefinition::key);
  }

  private String groupName() {
    return catalogues.current().grouping().map(FactDefinition::name).orElse("");
  }

  private ConflictListed listed(ConflictRow row) {
    var catalogue = catalogues.current();
    return new ConflictListed(
        row.id(),
        row.worker(),
        row.person(),
        catalogue.subtitle(FactsJson.read(row.facts(), catalogue.facts())),
        row.ruleKey(),
        Optional.ofNullable(concerns.rules().get(row.ruleKey()))
            .map(ConflictRule::name)
            .orElse(row.ruleKey()),
        row.foundAt(),
        row.exemptUntil() == null ? "open" : "exempt",
        row.exemptUntil());
  }

  /** How many there are of each rule that the actor sees, by what groups people here. */
  public Matrix matrix(Actor actor) {
    var seen = seen(actor);
    var groupedBy = groupedBy();
    return new Matrix(
        groupName(),
        seen.stream().map(ConflictViews::listed).toList(),
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
    var row = concerns.row(id, actor);
    var rule = Objects.requireNonNull(concerns.rules().get(row.ruleKey()));
    return new ConflictShown(
        listed(row),
        rule.risk(),
        rule.controls(),
        rule.longestDays(),
        Objects.requireNonNullElse(row.exemptBy(), ""),
        Objects.requireNonNullElse(row.exemptControl(), ""),
        parts(row, rule),
        concerns.exempts(row, actor),
        concerns.ends(row, actor));
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
    var lasting =
        revoking.held(List.of(row.personId()), now).getOrDefault(row.personId(), List.of());
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
                GivingGrants.of(entitlement, lasting, catalogue).stream()
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

  private static Giving giving(Grant grant, Catalogue catalogue) {
    return new Giving(
        grant.id(),
        catalogue.name(grant.target()),
        grant.basis().word(),
        grant.basisKey().replaceFirst("#.*", ""),
        grant.startsAt(),
        grant.endsAt(),
        GivingGrants.byRule(grant));
  }
}
