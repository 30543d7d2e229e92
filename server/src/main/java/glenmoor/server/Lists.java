package glenmoor.server;

import glenmoor.engine.Refused;
import java.time.Instant;
import java.util.List;
import java.util.function.Function;
import org.jspecify.annotations.Nullable;

/** What all lists have in common: pages by key, and how the key is written. */
public final class Lists {
  public static final String USUAL_LIMIT = "50";
  private static final int MOST = 500;

  /** A page; {@code next} is what to send as {@code after} for the next one, null at the end. */
  public record Page<T>(List<T> items, @Nullable String next) {}

  /** The place after which a list by time goes on. */
  public record Place(@Nullable Instant at, @Nullable Long id) {}

  private Lists() {}

  /** Makes a page of one row more than was asked for. */
  public static <R, T> Page<T> page(
      List<R> rows, int limit, Function<R, T> shown, Function<R, String> key) {
    var more = rows.size() > limit;
    var page = more ? rows.subList(0, limit) : rows;
    return new Page<>(page.stream().map(shown).toList(), more ? key.apply(page.getLast()) : null);
  }

  /**
   * A page of a list that is short enough to be at hand as a whole.
   *
   * @param key of a row; what is no key of any begins the list
   */
  public static <T> Page<T> part(
      List<T> all, @Nullable String after, int limit, Function<T, String> key) {
    var from = 0;
    for (var i = 0; i < all.size(); i++) {
      if (key.apply(all.get(i)).equals(after)) {
        from = i + 1;
      }
    }
    var rest = all.subList(from, all.size());
    return page(rest.subList(0, Math.min(rest.size(), limit(limit) + 1)), limit, row -> row, key);
  }

  public static int limit(int asked) {
    if (asked < 1 || asked > MOST) {
      throw Refused.badInput("limit must be from 1 to " + MOST + "; it is " + asked + ".");
    }
    return asked;
  }

  public static Place place(@Nullable String after) {
    if (after == null || after.isEmpty()) {
      return new Place(null, null);
    }
    try {
      var parts = after.split("_");
      return new Place(Instant.parse(parts[0]), Long.valueOf(parts[1]));
    } catch (RuntimeException bad) {
      throw Refused.badInput("after is “" + after + "”; send what the page before gave as next.");
    }
  }

  public static String key(Instant at, long id) {
    return at + "_" + id;
  }

  public static long number(@Nullable String after, long otherwise) {
    if (after == null || after.isEmpty()) {
      return otherwise;
    }
    if (!after.matches("\\d{1,18}")) {
      throw Refused.badInput("after is “" + after + "”; send what the page before gave as next.");
    }
    return Long.parseLong(after);
  }
}
