package glenmoor.core.names;

import it.unimi.dsi.fastutil.ints.IntArrayList;
import it.unimi.dsi.fastutil.longs.LongArrayList;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.IntPredicate;
import java.util.function.LongPredicate;
import org.jspecify.annotations.Nullable;

/**
 * Everybody's name, as names are searched, in one text: a part of a name is found by running
 * through it once. It takes a byte a letter and 13 bytes a person, and never changes.
 */
public final class NameIndex {
  private static final char END = '\n';

  /**
   * A name as it is searched, and whose it is, in the order of lists of people.
   *
   * @param letters by {@link glenmoor.core.people.Latin#letters}
   */
  public record Entry(String letters, long id) implements Comparable<Entry> {
    @Override
    public int compareTo(Entry other) {
      var order = letters.compareTo(other.letters);
      return order == 0 ? Long.compare(id, other.id) : order;
    }
  }

  private final String text;
  private final int[] starts;
  private final long[] ids;

  private NameIndex(String text, int[] starts, long[] ids) {
    this.text = text;
    this.starts = starts;
    this.ids = ids;
  }

  /** Takes names in the order of lists. */
  public static final class Builder {
    private final StringBuilder text = new StringBuilder();
    private final IntArrayList starts = new IntArrayList();
    private final LongArrayList ids = new LongArrayList();

    public void add(long id, String letters) {
      starts.add(text.length());
      ids.add(id);
      text.append(letters.replace(END, ' ')).append(END);
    }

    public NameIndex build() {
      starts.add(text.length());
      return new NameIndex(text.toString(), starts.toIntArray(), ids.toLongArray());
    }
  }

  /** Whether names can be searched for this: it has letters, and is of one line. */
  public static boolean canFind(String part) {
    return !part.isEmpty() && part.indexOf(END) < 0;
  }

  public int size() {
    return ids.length;
  }

  /**
   * The next people by name whose name has a part.
   *
   * @param part what {@linkplain #canFind can be found}
   * @param after where the page before ended; null for the first page
   * @param down whether the last come first
   * @param of whom of them to take
   */
  public List<Entry> find(
      String part, @Nullable Entry after, boolean down, int limit, LongPredicate of) {
    var found = new ArrayList<Entry>();
    IntPredicate take =
        at -> {
          if (of.test(ids[at])) {
            found.add(entry(at));
          }
          return found.size() < limit;
        };
    if (down) {
      backwards(part, after == null ? ids.length : first(after, false), take);
    } else {
      forwards(part, after == null ? 0 : first(after, true), take);
    }
    return found;
  }

  /** How many people have a part in their name. */
  public int count(String part, LongPredicate of) {
    var count = new int[1];
    forwards(
        part,
        0,
        at -> {
          count[0] += of.test(ids[at]) ? 1 : 0;
          return true;
        });
    return count[0];
  }

  private void forwards(String part, int first, IntPredicate goOn) {
    for (var hit = text.indexOf(part, starts[first]); hit >= 0; ) {
      var at = at(hit);
      if (!goOn.test(at)) {
        return;
      }
      hit = text.indexOf(part, starts[at + 1]);
    }
  }

  private void backwards(String part, int end, IntPredicate goOn) {
    for (var hit = text.lastIndexOf(part, starts[end] - 1); hit >= 0; ) {
      var at = at(hit);
      if (!goOn.test(at)) {
        return;
      }
      hit = text.lastIndexOf(part, starts[at] - 1);
    }
  }

  /** Whose name a place in the text is in. */
  private int at(int place) {
    var at = Arrays.binarySearch(starts, place);
    return at >= 0 ? at : -at - 2;
  }

  private Entry entry(int at) {
    return new Entry(text.substring(starts[at], starts[at + 1] - 1), ids[at]);
  }

  /** The first place at or behind an entry. */
  private int first(Entry entry, boolean behind) {
    var low = 0;
    var high = ids.length;
    while (low < high) {
      var middle = (low + high) >>> 1;
      var order = entry(middle).compareTo(entry);
      if (order < 0 || behind && order == 0) {
        low = middle + 1;
      } else {
        high = middle;
      }
    }
    return low;
  }
}
