package glenmoor.core.definitions;

import glenmoor.core.definitions.Definition.Name;
import java.util.Collection;
import java.util.Set;
import java.util.TreeSet;

/**
 * Whom a change of definitions concerns: those whose plans may become others by it.
 *
 * @param everybody whether that cannot be narrowed down
 * @param holders of these: who has, or is to have, something of one of them
 * @param workers the keys of worker numbers of people whom it concerns by name
 */
public record Concern(boolean everybody, Set<Name> holders, Set<String> workers) {
  public static final Concern NOBODY = new Concern(false, Set.of(), Set.of());
  public static final Concern EVERYBODY = new Concern(true, Set.of(), Set.of());

  /** Only those who have, or are to have, something of one definition. */
  public static Concern holders(String kind, String key) {
    return new Concern(false, Set.of(new Name(kind, key)), Set.of());
  }

  /** Only these people, by the keys of their worker numbers. */
  public static Concern workers(Collection<String> keys) {
    return new Concern(false, Set.of(), Set.copyOf(keys));
  }

  public boolean nobody() {
    return !everybody && holders.isEmpty() && workers.isEmpty();
  }

  /** Whom either concerns. */
  public Concern and(Concern other) {
    if (everybody || other.everybody) {
      return EVERYBODY;
    }
    return new Concern(false, both(holders, other.holders), both(workers, other.workers));
  }

  private static <T extends Comparable<T>> Set<T> both(Set<T> some, Set<T> more) {
    var both = new TreeSet<>(some);
    both.addAll(more);
    return both;
  }
}
