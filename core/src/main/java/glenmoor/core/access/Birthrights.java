package glenmoor.core.access;

import glenmoor.core.access.Grant.Basis;
import glenmoor.core.access.Grant.Target;
import glenmoor.core.agenda.CalendarDays;
import glenmoor.core.conditions.Trouble;
import glenmoor.core.conditions.Unanswerable;
import glenmoor.core.people.Facts;
import glenmoor.core.people.Person;
import glenmoor.core.people.Standing;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.NullMarked;

/**
 * Decides which birthright grants of one person begin, change their end, or stay.
 *
 * <p>A grant begins when its condition begins to hold (for an expected person: at the start of
 * their first day) and ends when it stops to hold, after the birthright's grace if it had begun.
 * When somebody leaves, all of it ends at once. A condition that fails when it runs decides
 * nothing.
 */
@NullMarked
public final class Birthrights {
  private static final long NOT_STORED = 0;

  /**
   * What to change.
   *
   * @param begin grants to be stored, without an id yet
   * @param amend stored grants with another end
   * @param troubles birthrights that cannot be answered for this person; what they gave stays
   */
  public record Changes(List<Grant> begin, List<Grant> amend, List<Trouble> troubles) {}

  private Birthrights() {}

  /** Compares what the conditions say now with the grants there are. */
  public static Changes decide(
      Person person, List<Grant> grants, Catalogue catalogue, Instant now) {
    var today = now.atZone(catalogue.zone()).toLocalDate();
    var standing = Standing.of(person, today);
    var open = new HashMap<String, Grant>();
    for (var grant : grants) {
      if (grant.basis() == Basis.BIRTHRIGHT && !grant.over(now)) {
        open.put(grant.basisKey(), grant);
      }
    }
    var begin = new ArrayList<Grant>();
    var amend = new ArrayList<Grant>();
    var troubles = new ArrayList<Trouble>();
    if (standing.isGone()) {
      open.values().forEach(grant -> amend.add(grant.ending(now, "left")));
      return new Changes(begin, amend, troubles);
    }
    var from = beginning(person, standing, catalogue, now);
    var view = catalogue.expressions().view(person);
    for (var birthright : catalogue.birthrights()) {
      var existing = open.remove(birthright.key());
      var target = new Target.OfPackage(birthright.packageKey());
      boolean holds;
      try {
        holds = birthright.where().holds(view);
      } catch (Unanswerable unanswered) {
        troubles.add(
            new Trouble(
                "birthright: " + birthright.key(), String.valueOf(unanswered.getMessage())));
        continue;
      }
      if (holds) {
        if (existing != null && fits(existing, target, from, now)) {
          if (existing.endsAt() != null) {
            amend.add(existing.ending(null, ""));
          }
          continue;
        }
        if (existing != null) {
          amend.add(existing.ending(now, "replaced"));
        }
        begin.add(
            new Grant(
                NOT_STORED,
                person.id(),
                target,
                Basis.BIRTHRIGHT,
                birthright.key(),
                from,
                null,
                ""));
      } else if (existing != null && existing.startsAt().isAfter(now)) {
        // It never began: there is nothing to go on with for a grace.
        amend.add(existing.ending(now, "facts no longer meet the birthright"));
      } else if (existing != null && existing.endsAt() == null) {
        var end = CalendarDays.after(now, birthright.graceDays(), catalogue.zone());
        amend.add(existing.ending(end, "facts no longer meet the birthright"));
      }
    }
    open.values().forEach(grant -> amend.add(grant.ending(now, "birthright no longer defined")));
    return new Changes(begin, amend, troubles);
  }

  private static boolean fits(Grant existing, Target target, Instant from, Instant now) {
    var started = !existing.startsAt().isAfter(now);
    return existing.target().equals(target)
        && (started || Objects.equals(existing.startsAt(), from));
  }

  private static Instant beginning(
      Person person, Standing standing, Catalogue catalogue, Instant now) {
    if (standing != Standing.EXPECTED) {
      return now;
    }
    return person
        .facts()
        .date(Facts.START)
        .map(start -> start.atStartOfDay(catalogue.zone()).toInstant())
        .orElse(now);
  }
}
