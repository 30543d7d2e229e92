package glenmoor.engine.requests;

import glenmoor.core.requests.OfferNumbers;
import glenmoor.engine.time.Clock;
import glenmoor.store.requests.RequestMapper;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.Map;
import org.jspecify.annotations.Nullable;

/**
 * Within which time half of those who asked for something had it, of the last ninety days. It is
 * looked up for all offers at once, and kept for some minutes: it is a hint, and everybody who
 * looks at what there is asks for it.
 */
@Named
final class UsualTimes {
  private static final Duration LOOKED_AT = Duration.ofDays(90);
  private static final long KEPT_NANOS = Duration.ofMinutes(5).toNanos();

  private record Known(long at, Instant until, Map<String, Long> byOffer) {}

  private final RequestMapper requests;
  private final Clock clock;
  private volatile @Nullable Known known;

  UsualTimes(RequestMapper requests, Clock clock) {
    this.requests = requests;
    this.clock = clock;
  }

  /** Of one offer, in seconds; null where nobody was given it lately. */
  @Nullable Long of(String offer) {
    var found = known;
    var now = clock.instant();
    // In a demo the clock is moved, and what is kept of before says nothing then.
    if (found == null
        || System.nanoTime() - found.at() > KEPT_NANOS
        || Duration.between(found.until(), now).abs().compareTo(Duration.ofHours(1)) > 0) {
      var byOffer = new HashMap<String, Long>();
      for (OfferNumbers each : requests.numbers(now.minus(LOOKED_AT))) {
        if (each.medianSeconds() != null) {
          byOffer.put(each.offer(), each.medianSeconds());
        }
      }
      found = new Known(System.nanoTime(), now, byOffer);
      known = found;
    }
    return found.byOffer().get(offer);
  }
}
