package glenmoor.core.definitions;

import glenmoor.core.definitions.Definition.Name;
import java.util.Set;
import java.util.TreeSet;

/**
 * Whom a change of definitions concerns: those whose plans may become others by it.
 *
 * @param everybody whether that cannot be narrowed down
 * @param holders of these: who has, or is to have, something of one of them
 */
public record Concern(boolean everybody, Set<Name> holders) {
  public static final Concern NOBODY = new Concern(false, Set.of());
  public static final Concern EVERYBODY = new Concern(true, Set.of());

  /** Only those who have, or are to have, something of one definition. */
  public static Concern holders(String kind, String key) {
    return new Concern(false, Set.of(new Name(kind, key)));
  }

  public boolean nobody() {
    return !everybody && holders.isEmpty();
  }

  /** Whom either concerns. */
  public Concern and(Concern other) {
    if (everybody || other.everybody) {
      return EVERYBODY;
    }
    var both = new TreeSet<>(holders);
    both.addAll(other.holders);
    return new Concern(false, both);
  }
}
