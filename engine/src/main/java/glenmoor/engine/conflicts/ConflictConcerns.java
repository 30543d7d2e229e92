package glenmoor.engine.conflicts;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.authorization.Scope;
import glenmoor.core.conflicts.ConflictRule;
import glenmoor.core.conflicts.ConflictRuleKind;
import glenmoor.core.people.Facts;
import glenmoor.core.people.WorkerNumber;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.time.Clock;
import glenmoor.store.conflicts.ConflictMapper;
import glenmoor.store.conflicts.ConflictMapper.ConflictRow;
import glenmoor.store.people.FactsJson;
import jakarta.inject.Named;
import java.util.Map;

/** Whom a conflict concerns, and who settles it: asked in one place. */
@Named
final class ConflictConcerns {
  private final ConflictMapper conflicts;
  private final Catalogues catalogues;
  private final Clock clock;

  ConflictConcerns(ConflictMapper conflicts, Catalogues catalogues, Clock clock) {
    this.conflicts = conflicts;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  static boolean sees(ConflictRule rule, Actor actor) {
    return actor.may(Permission.SEE_CONFLICTS)
        || actor.may(Permission.SEE_CONFLICTS, Scope.conflictRule(rule.key()));
  }

  private boolean isManager(ConflictRow row, Actor actor) {
    var facts = FactsJson.read(row.facts(), catalogues.current().facts());
    return isWorker(facts.text(Facts.MANAGER), actor);
  }

  private static boolean isOwn(ConflictRow row, Actor actor) {
    return isWorker(row.worker(), actor);
  }

  private static boolean isWorker(String number, Actor actor) {
    var own = WorkerNumber.keyOrNone(actor.worker());
    return !own.isEmpty() && own.equals(WorkerNumber.key(number));
  }

  /** Nobody allows what they would gain by. */
  boolean exempts(ConflictRow row, Actor actor) {
    return !isOwn(row, actor)
        && (actor.may(Permission.EXEMPT)
            || actor.may(Permission.EXEMPT, Scope.conflictRule(row.ruleKey())));
  }

  /** Whoever may allow it, the manager, and who holds it. */
  boolean ends(ConflictRow row, Actor actor) {
    return exempts(row, actor)
        || isManager(row, actor)
        || isOwn(row, actor)
        || actor.may(Permission.END_GRANTS);
  }

  Map<String, ConflictRule> rules() {
    return catalogues.current().defined().all(ConflictRuleKind.class);
  }

  /**
   * One that is not over.
   *
   * @throws Refused as if there were none where it does not concern the actor
   */
  ConflictRow row(long id, Actor actor) {
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
}
