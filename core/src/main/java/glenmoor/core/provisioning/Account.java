package glenmoor.core.provisioning;

import glenmoor.core.applications.AccountState;
import glenmoor.core.people.PersonId;
import java.time.Instant;
import java.util.Collections;
import java.util.SortedMap;
import java.util.SortedSet;
import java.util.TreeMap;
import java.util.TreeSet;
import org.jspecify.annotations.Nullable;

/**
 * A person's record in an application, as it will be once all queued operations are confirmed.
 * Planning compares with this, so that planning twice queues nothing twice.
 *
 * @param baseName the name before numbering
 * @param number 1 for the plain name, 2 and up where others have it
 * @param container where it is kept; empty for applications without containers
 * @param attributes as mapped, by the application's own names
 * @param heldSince since when it has been disabled because nobody needs it, or null
 * @param nextSequence the place in the lane that the next operation takes
 */
public record Account(
    long id,
    PersonId person,
    String application,
    String baseName,
    int number,
    String container,
    SortedMap<String, String> attributes,
    AccountState state,
    SortedSet<String> entitlements,
    @Nullable Instant heldSince,
    int nextSequence) {

  public Account {
    attributes = Collections.unmodifiableSortedMap(new TreeMap<>(attributes));
    entitlements = Collections.unmodifiableSortedSet(new TreeSet<>(entitlements));
  }

  /** The name in the application. */
  public String name() {
    return nameOf(baseName, number);
  }

  /** A base name with its number: the first has none. */
  public static String nameOf(String baseName, int number) {
    return number == 1 ? baseName : baseName + number;
  }
}
