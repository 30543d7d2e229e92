package glenmoor.engine.definitions;

import glenmoor.core.access.Catalogue;
import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Person;
import glenmoor.core.people.PersonId;
import glenmoor.core.people.WorkerNumber;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** How accounts would be called, before anything is loaded. */
@jakarta.inject.Named
public final class NameTrials {
  private static final int MOST_TRIED = 1_000;

  /** Account names of a person as a catalogue makes them, by application. */
  public record Named(String worker, String name, Map<String, String> accounts) {}

  private final Catalogues catalogues;
  private final Preparing preparing;
  private final PlanPreview planning;

  public NameTrials(Catalogues catalogues, Preparing preparing, PlanPreview planning) {
    this.catalogues = catalogues;
    this.preparing = preparing;
    this.planning = planning;
  }

  /**
   * How the accounts of people would be called, before anything is loaded.
   *
   * @param files definitions to try; none for those in force
   * @param tried worker numbers of people who are known, or facts of people who are not
   */
  public List<Named> names(
      List<DefinitionFile> files, List<Map<String, String>> tried, Actor actor) {
    Authorization.need(actor, Permission.SEE_DEFINITIONS);
    if (tried.size() > MOST_TRIED) {
      throw Refused.badInput(
          "%,d people are given to try; give at most %,d.".formatted(tried.size(), MOST_TRIED));
    }
    var catalogue =
        files.isEmpty()
            ? catalogues.current()
            : preparing.prepare(files, false, Permission.SEE_DEFINITIONS, actor).catalogue();
    var planner = planning.trying(catalogue);
    var named = new ArrayList<Named>();
    for (var facts : tried) {
      var person = person(facts, catalogue);
      named.add(
          new Named(person.worker().value(), person.facts().fullName(), planner.tryNames(person)));
    }
    return named;
  }

  private static Person person(Map<String, String> said, Catalogue catalogue) {
    var worker = said.getOrDefault("worker", "T-1");
    var number =
        WorkerNumber.read(worker)
            .orElseThrow(() ->
                Refused.badInput(
                    "The worker number “%s” cannot be used; expected %s."
                        .formatted(worker, WorkerNumber.EXPECTED)));
    var facts = new HashMap<>(said);
    facts.remove("worker");
    return new Person(
        new PersonId(-1), number, SaidFacts.with(Facts.of(Map.of()), facts, catalogue), null);
  }
}
