package glenmoor.engine.names;

import glenmoor.core.names.NameIndex;
import glenmoor.core.names.NameIndex.Entry;
import glenmoor.store.names.NameChangeMapper.Change;
import java.time.Instant;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.jspecify.annotations.Nullable;

/**
 * Everybody's name, as it was when all were read, and what changed since. It does not change
 * itself: with more changes there is another one.
 *
 * @param changed the names of people who got one or another one since; the index is not asked about
 *     them
 * @param seen the changes that are in it, as far as they can be met again
 * @param until the moment of the last of them
 */
record KnownNames(NameIndex index, Map<Long, String> changed, Set<Long> seen, Instant until) {
  static KnownNames of(NameIndex index, List<Change> seen, Instant until) {
    return new KnownNames(index, Map.of(), ids(seen), until);
  }

  private static Set<Long> ids(List<Change> changes) {
    return changes.stream().map(Change::id).collect(Collectors.toUnmodifiableSet());
  }

  /** Which of the changes that can be met are not in it. */
  List<Change> missing(List<Change> met) {
    return met.stream().filter(each -> !seen.contains(each.id())).toList();
  }

  /**
   * With all changes that can be met.
   *
   * @param names what the missing ones among them changed
   */
  KnownNames with(List<Change> met, Collection<Entry> names) {
    var all = new HashMap<>(changed);
    names.forEach(each -> all.put(each.id(), each.letters()));
    var last = met.stream().map(Change::at).max(Instant::compareTo).orElse(until);
    return new KnownNames(index, all, ids(met), last.isAfter(until) ? last : until);
  }

  /** The next people whose name has a part; the same as {@link NameIndex#find}. */
  List<Entry> find(String part, @Nullable Entry after, boolean down, int limit) {
    var before = index.find(part, after, down, limit, id -> !changed.containsKey(id));
    var since =
        since(part)
            .filter(each ->
                after == null || (down ? each.compareTo(after) < 0 : each.compareTo(after) > 0));
    var all = Stream.concat(before.stream(), since);
    return (down ? all.sorted((a, b) -> b.compareTo(a)) : all.sorted()).limit(limit).toList();
  }

  /** How many people have a part in their name. */
  int count(String part) {
    return index.count(part, id -> !changed.containsKey(id)) + (int) since(part).count();
  }

  private Stream<Entry> since(String part) {
    return changed.entrySet().stream()
        .filter(each -> each.getValue().contains(part))
        .map(each -> new Entry(each.getValue(), each.getKey()));
  }
}
