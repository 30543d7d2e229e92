package glenmoor.core.conflicts;

import java.util.Collection;
import java.util.HashMap;
import java.util.Map;
import org.roaringbitmap.longlong.Roaring64Bitmap;

/**
 * Who holds what, as one compressed set of people an entitlement (Roaring bitmaps). A rule is an
 * expression over these sets, so a hundred rules over a million holdings are a hundred small set
 * operations, and the holdings are read once for all of them.
 */
public final class Holders {
  private final Map<String, Roaring64Bitmap> sets = new HashMap<>();

  /** Somebody holds something. */
  public void add(String entitlement, long person) {
    sets.computeIfAbsent(entitlement, key -> new Roaring64Bitmap()).addLong(person);
  }

  /** All who break a rule, in the order of their identities. */
  public long[] breaking(ConflictRule rule) {
    return (rule.sides().isEmpty() ? moreThan(rule.of(), rule.most()) : ofEvery(rule)).toArray();
  }

  private Roaring64Bitmap ofAny(Collection<String> entitlements) {
    var any = new Roaring64Bitmap();
    entitlements.stream().filter(sets::containsKey).map(sets::get).forEach(any::or);
    return any;
  }

  private Roaring64Bitmap ofEvery(ConflictRule rule) {
    Roaring64Bitmap all = null;
    for (var side : rule.sides()) {
      var any = ofAny(side);
      if (all == null) {
        all = any;
      } else {
        all.and(any);
      }
    }
    return all == null ? new Roaring64Bitmap() : all;
  }

  /** {@code atLeast[n]} are those who hold n + 1 of what was looked at so far. */
  private Roaring64Bitmap moreThan(Collection<String> of, int most) {
    var atLeast = new Roaring64Bitmap[most + 1];
    for (var level = 0; level <= most; level++) {
      atLeast[level] = new Roaring64Bitmap();
    }
    for (var key : of) {
      var set = sets.get(key);
      if (set != null) {
        for (var level = most; level > 0; level--) {
          var both = new Roaring64Bitmap();
          both.or(atLeast[level - 1]);
          both.and(set);
          atLeast[level].or(both);
        }
        atLeast[0].or(set);
      }
    }
    return atLeast[most];
  }
}
