package glenmoor.engine.access;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.conditions.Trouble;
import glenmoor.core.forecast.WhatIf;
import glenmoor.core.lifecycle.Detected;
import glenmoor.core.lifecycle.EventKind;
import glenmoor.core.people.FactType;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Standing;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.definitions.SaidFacts;
import glenmoor.engine.people.Visible;
import glenmoor.engine.provisioning.PersonSnapshots;
import glenmoor.engine.provisioning.Planning;
import glenmoor.engine.time.Clock;
import glenmoor.store.people.PersonMapper;
import jakarta.inject.Named;
import java.util.List;
import java.util.Map;
import org.jspecify.annotations.NullMarked;
import org.jspecify.annotations.Nullable;

/**
 * What would become of somebody's access before HR says so: nothing is kept and nothing is done.
 */
@NullMarked
@Named
public final class WhatIfService {
  /**
   * The answer.
   *
   * @param event what the change would be to Glenmoor; null where nothing differs
   * @param standing the standing after it, today
   * @param troubles what could not be computed; it would stay as it is
   */
  public record Answer(
      String worker,
      String name,
      @Nullable EventKind event,
      Standing standing,
      WhatIf whatIf,
      List<Trouble> troubles) {}

  private final PersonMapper people;
  private final Visible visible;
  private final PersonSnapshots snapshots;
  private final Planning planning;
  private final Catalogues catalogues;
  private final Clock clock;

  public WhatIfService(
      PersonMapper people,
      Visible visible,
      PersonSnapshots snapshots,
      Planning planning,
      Catalogues catalogues,
      Clock clock) {
    this.people = people;
    this.visible = visible;
    this.snapshots = snapshots;
    this.planning = planning;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  /**
   * Plans for a person as if these facts were theirs today.
   *
   * @param said facts by key; an empty one is taken away
   * @throws Refused if nothing is said, or what is said cannot be
   */
  public Answer ask(String worker, Map<String, String> said, Actor actor) {
    Authorization.need(actor, Permission.SEE_EVERYBODY);
    if (said.isEmpty()) {
      throw Refused.badInput(
          "Say what would be otherwise: facts with their values, such as location=Westholm.");
    }
    var catalogue = catalogues.current();
    var row = visible.row(worker, actor);
    var snapshot = snapshots.shown(List.of(row), catalogue).getFirst();
    var before = snapshot.person();
    var after = before.withFacts(SaidFacts.with(before.facts(), said, catalogue));
    catalogue.facts().values().stream()
        .filter(fact -> fact.type() == FactType.PERSON && said.containsKey(fact.key()))
        .forEach(fact -> somebody(fact.key(), after.facts()));
    var now = clock.instant();
    var today = now.atZone(catalogue.zone()).toLocalDate();
    var plan = planning.forecaster(catalogue).apply(List.of(snapshot.withPerson(after))).getFirst();
    return new Answer(
        row.workerNumber(),
        row.name(),
        Detected.between(before, after, catalogue.facts(), today).map(Detected::kind).orElse(null),
        plan.standing(),
        WhatIf.of(snapshot, plan, catalogue, now),
        plan.troubles());
  }

  private void somebody(String fact, Facts facts) {
    var named = facts.text(fact);
    if (!named.isEmpty() && people.byWorker(named) == null) {
      throw Refused.badInput(
          "%s is “%s”, and nobody has that worker number.".formatted(fact, named));
    }
  }
}
