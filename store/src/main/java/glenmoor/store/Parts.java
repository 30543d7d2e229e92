package glenmoor.store;

import java.util.List;
import java.util.function.Consumer;

/** Many rows as a few statements of a size that the database takes well. */
public final class Parts {
  private Parts() {}

  /** Gives a list in parts of at most {@code size}, in order; an empty list gives none. */
  public static <T> void each(List<T> all, int size, Consumer<List<T>> part) {
    for (var from = 0; from < all.size(); from += size) {
      part.accept(all.subList(from, Math.min(from + size, all.size())));
    }
  }
}
