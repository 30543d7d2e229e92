package glenmoor.core.conflicts;

import java.time.LocalDate;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;

/**
 * What one person must not hold together: something of every side. A rule of any <i>k</i> of a set
 * is one whose set counts.
 *
 * @param risk what could happen, in plain words
 * @param sides keys of entitlements, two or more sides; empty where the set counts
 * @param of keys of entitlements; empty where sides count
 * @param most of the set that one person may hold
 * @param controls compensating controls that are suggested
 * @param longestDays how long an exemption may last
 * @param from the first day on which it counts; nothing where it does at once
 */
public record ConflictRule(
    String key,
    String name,
    String risk,
    List<Set<String>> sides,
    Set<String> of,
    int most,
    List<String> controls,
    int longestDays,
    Optional<LocalDate> from) {
  /** Whether it counts on a day. */
  public boolean counts(LocalDate day) {
    return from.isEmpty() || !day.isBefore(from.get());
  }

  /** Whether somebody who holds these breaks it. */
  public boolean isBroken(Collection<String> held) {
    return sides.isEmpty()
        ? of.stream().filter(held::contains).count() > most
        : sides.stream().allMatch(side -> side.stream().anyMatch(held::contains));
  }

  /** All that it names. */
  public Set<String> entitlements() {
    var all = new TreeSet<>(of);
    sides.forEach(all::addAll);
    return all;
  }

  /** Those of the rules that are broken with something more and were not without it, by key. */
  public static List<ConflictRule> caused(
      Collection<ConflictRule> rules, Set<String> held, Set<String> more) {
    var all = new TreeSet<>(held);
    all.addAll(more);
    return rules.stream()
        .filter(rule -> rule.isBroken(all) && (!rule.isBroken(held) || rule.gains(held, more)))
        .collect(Collectors.toList());
  }

  /** Whether it names something that somebody would hold more of. */
  private boolean gains(Set<String> held, Set<String> more) {
    return entitlements().stream().anyMatch(each -> more.contains(each) && !held.contains(each));
  }
}
