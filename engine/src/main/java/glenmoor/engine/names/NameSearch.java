package glenmoor.engine.names;

import glenmoor.core.names.NameIndex;
import glenmoor.core.names.NameIndex.Entry;
import glenmoor.store.names.NameChangeMapper;
import glenmoor.store.names.NameChangeMapper.Change;
import glenmoor.store.people.PersonMapper;
import glenmoor.store.people.PersonRow;
import glenmoor.store.people.PersonSearch;
import jakarta.inject.Inject;
import jakarta.inject.Named;
import java.time.Duration;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.function.LongSupplier;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * People by what lists ask for. Who asks for a part of a name alone is answered from an index of
 * names in memory, which an index of the database could not be without making each feed longer; it
 * is read when it is first wanted, and brought up to what was committed before each answer. While
 * it is not there the database is asked.
 */
@Named
public final class NameSearch {
  private static final Logger LOG = LoggerFactory.getLogger(NameSearch.class);

  /** So many changes beside the index, and it is read anew. */
  private static final int MOST_CHANGES = 5_000;

  /** What was changed is kept for twice as long, so who looks more often misses nothing. */
  private static final Duration KEEPS = Duration.ofHours(1);

  /** All names are read anew this often, whatever was told: a database may have been restored. */
  private static final Duration AGES_IN = Duration.ofHours(6);

  private final PersonMapper people;
  private final NameChangeMapper changes;
  private final LongSupplier nanoTime;
  private final AtomicBoolean reading = new AtomicBoolean();
  private volatile @Nullable KnownNames known;
  private volatile long lookedAt;
  private volatile long readAt;

  @Inject
  public NameSearch(PersonMapper people, NameChangeMapper changes) {
    this(people, changes, System::nanoTime);
  }

  NameSearch(PersonMapper people, NameChangeMapper changes, LongSupplier nanoTime) {
    this.people = people;
    this.changes = changes;
    this.nanoTime = nanoTime;
  }

  /** People in the order that is asked for. */
  public List<PersonRow> list(PersonSearch search) {
    var names = names(search);
    if (names == null) {
      return people.search(search);
    }
    var after = search.after();
    var found =
        names.find(
            letters(search),
            after == null ? null : new Entry(after.letters(), after.id()),
            search.order().down(),
            search.limit());
    if (found.isEmpty()) {
      return List.of();
    }
    var places = new HashMap<Long, Integer>();
    found.forEach(each -> places.put(each.id(), places.size()));
    return people.byIds(places.keySet()).stream()
        .sorted(Comparator.comparing(row -> places.get(row.id())))
        .toList();
  }

  /** How many people there are of those who are asked for, on all pages. */
  public int count(PersonSearch search) {
    var names = names(search);
    return names == null ? people.count(search) : names.count(letters(search));
  }

  /** What is known of names; null before they were read. */
  @Nullable KnownNames known() {
    return known;
  }

  private static String letters(PersonSearch search) {
    return search.letters() == null ? "" : search.letters();
  }

  /** All names as they are; null where they do not answer a search. */
  private @Nullable KnownNames names(PersonSearch search) {
    if (!search.isOfNamesAlone() || !NameIndex.canFind(letters(search))) {
      return null;
    }
    var names = known;
    if (names == null || nanoTime.getAsLong() - lookedAt > KEEPS.toNanos()) {
      readAll();
      return null;
    }
    var began = nanoTime.getAsLong();
    var met = changes.since(names.until());
    var missing = names.missing(met);
    if (missing.stream().anyMatch(Change::many)) {
      readAll();
      return null;
    }
    if (!missing.isEmpty()) {
      // Should somebody else have come further meanwhile, the next search does.
      names = names.with(met, changes.names(missing.stream().map(Change::id).toList()));
      known = names;
    }
    lookedAt = began;
    if (names.changed().size() > MOST_CHANGES || began - readAt > AGES_IN.toNanos()) {
      readAll();
    }
    return names;
  }

  /** Reads all names beside whatever goes on; once at a time. */
  private void readAll() {
    if (reading.compareAndSet(false, true)) {
      Thread.ofVirtual()
          .name("names")
          .start(() -> {
            try {
              var began = nanoTime.getAsLong();
              known = read();
              // Not before: what was known until now may have missed changes that are let go.
              lookedAt = began;
              readAt = began;
            } catch (RuntimeException failed) {
              LOG.warn("Names are searched in the database: they could not be read.", failed);
            } finally {
              reading.set(false);
            }
          });
    }
  }

  private KnownNames read() {
    var now = changes.now();
    var seen = changes.since(now);
    var index = new NameIndex.Builder();
    changes.all(each -> index.add(each.getResultObject().id(), each.getResultObject().letters()));
    return KnownNames.of(index.build(), seen, now);
  }
}
