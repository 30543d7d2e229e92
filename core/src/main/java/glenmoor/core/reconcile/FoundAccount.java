package glenmoor.core.reconcile;

import java.util.Collections;
import java.util.SortedMap;
import java.util.SortedSet;
import java.util.TreeMap;
import java.util.TreeSet;

/**
 * An account as an application lists it.
 *
 * @param worker the worker number it carries, empty if none
 * @param attributes those that are mapped and not empty, by the application's own names
 * @param entitlements keys of those that are defined
 */
public record FoundAccount(
    String nativeId,
    String name,
    String container,
    String worker,
    boolean enabled,
    SortedMap<String, String> attributes,
    SortedSet<String> entitlements) {
  public FoundAccount {
    attributes = Collections.unmodifiableSortedMap(new TreeMap<>(attributes));
    entitlements = Collections.unmodifiableSortedSet(new TreeSet<>(entitlements));
  }
}
