package glenmoor.engine.people;

import glenmoor.core.access.Catalogue;
import glenmoor.core.conditions.Expressions.Condition;
import glenmoor.core.conditions.Unanswerable;
import glenmoor.engine.Refused;
import glenmoor.engine.time.Clock;
import glenmoor.store.people.FactsJson;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonMapper.Alike;
import glenmoor.store.people.PersonRow;
import jakarta.inject.Named;
import java.util.HashMap;
import java.util.List;

/**
 * How many people a condition is for. People alike in the facts that it names are counted by the
 * database, and it is evaluated for one of each kind: what it says depends on nothing else.
 */
@Named
public final class Audience {
  private static final int AT_ONCE = 500;
  private static final int MOST_KINDS = 20_000;

  /**
   * People for whom it holds, of all who are here or expected.
   *
   * @param unanswered for how many it cannot be answered, because it fails for them
   */
  public record Counted(int people, int of, int unanswered) {}

  private final PersonMapper people;
  private final Clock clock;

  Audience(PersonMapper people, Clock clock) {
    this.people = people;
    this.clock = clock;
  }

  /**
   * Counts them.
   *
   * @throws Refused if too many different values would have to be looked at
   */
  public Counted of(Condition condition, Catalogue catalogue) {
    var today = clock.instant().atZone(catalogue.zone()).toLocalDate();
    var named = condition.factsNamed();
    var ofOne = named.contains("worker") || named.contains("name") || named.contains("teams");
    var kinds =
        people.alike(
            named.stream().filter(catalogue.facts()::containsKey).toList(),
            ofOne,
            today,
            MOST_KINDS + 1);
    if (kinds.size() > MOST_KINDS) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "It names facts that hardly two people share; so many different ones are not counted here.");
    }
    var holds = 0;
    var unanswered = 0;
    var all = 0;
    for (var from = 0; from < kinds.size(); from += AT_ONCE) {
      var batch = kinds.subList(from, Math.min(kinds.size(), from + AT_ONCE));
      var rows = new HashMap<Long, PersonRow>();
      people.byIds(batch.stream().map(Alike::id).toList()).forEach(row -> rows.put(row.id(), row));
      for (var kind : batch) {
        all += kind.people();
        try {
          var row = rows.get(kind.id());
          if (row != null && holds(condition, row, catalogue)) {
            holds += kind.people();
          }
        } catch (Unanswerable failed) {
          unanswered += kind.people();
        }
      }
    }
    return new Counted(holds, all, unanswered);
  }

  private static boolean holds(Condition condition, PersonRow row, Catalogue catalogue) {
    return condition.holds(catalogue.expressions().view(FactsJson.person(row, catalogue.facts())));
  }

  /** All who are here or expected. */
  public Counted everybody(Catalogue catalogue) {
    var today = clock.instant().atZone(catalogue.zone()).toLocalDate();
    var all = people.alike(List.of(), false, today, 1).stream().mapToInt(Alike::people).sum();
    return new Counted(all, all, 0);
  }
}
