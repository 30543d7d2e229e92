package glenmoor.engine.applications;

import java.util.concurrent.atomic.AtomicBoolean;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;

/**
 * Something that takes long to count where there is much, and no time where there is little: what
 * was counted may be so old as a few tens of countings take. So it is always fresh in a small
 * organisation, and costs a large one a few hundredths of a processor however often it is asked.
 */
final class CostlyCount<T> {
  private static final int TIMES = 20;
  private static final int STALE_TIMES = 8 * TIMES;

  private record Counted<T>(T value, long at, long took) {
    long age() {
      return System.nanoTime() - at;
    }
  }

  private final Supplier<T> count;
  private final AtomicBoolean counting = new AtomicBoolean();
  private volatile @Nullable Counted<T> last;

  CostlyCount(Supplier<T> count) {
    this.count = count;
  }

  /** What was counted, anew where that is too old. */
  T get() {
    var known = last;
    if (known == null || known.age() > known.took() * STALE_TIMES) {
      return counted();
    }
    if (known.age() > known.took() * TIMES && counting.compareAndSet(false, true)) {
      Thread.ofVirtual()
          .name("count")
          .start(() -> {
            try {
              counted();
            } finally {
              counting.set(false);
            }
          });
    }
    return known.value();
  }

  private T counted() {
    var start = System.nanoTime();
    var value = count.get();
    last = new Counted<>(value, System.nanoTime(), System.nanoTime() - start);
    return value;
  }
}
