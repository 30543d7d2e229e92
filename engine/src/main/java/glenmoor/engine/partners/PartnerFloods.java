package glenmoor.engine.partners;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import glenmoor.engine.Refused;
import io.github.bucket4j.Bucket;
import jakarta.inject.Named;
import java.time.Duration;
import java.util.concurrent.TimeUnit;

/**
 * Keeps anybody from having letters written without end: so many from one place, to one address and
 * for one organisation. What is refused to one costs the others nothing.
 */
@Named
final class PartnerFloods {
  private static final int MOST = 50_000;
  private static final int OF_PLACE = 60;
  private static final Duration OF_PLACE_FILLS = Duration.ofSeconds(30);
  private static final int OF_MAIL = 3;
  private static final Duration OF_MAIL_FILLS = Duration.ofMinutes(20);
  private static final int OF_ORGANISATION = 500;
  private static final Duration OF_ORGANISATION_FILLS = Duration.ofSeconds(30);

  private final Cache<String, Bucket> buckets =
      Caffeine.newBuilder().maximumSize(MOST).expireAfterAccess(Duration.ofHours(6)).build();

  /**
   * Somebody asks.
   *
   * @param place the address it comes from
   * @throws Refused with how long to wait, if there were too many
   */
  void knocks(String place) {
    take("place " + place, OF_PLACE, OF_PLACE_FILLS);
  }

  /**
   * A letter is to be written.
   *
   * @throws Refused with how long to wait, if there were too many
   */
  void letter(String organisation, String mail) {
    take("mail " + mail, OF_MAIL, OF_MAIL_FILLS);
    take("organisation " + organisation, OF_ORGANISATION, OF_ORGANISATION_FILLS);
  }

  private void take(String key, int most, Duration fills) {
    var probe =
        buckets
            .get(
                key,
                made ->
                    Bucket.builder()
                        .addLimit(limit -> limit.capacity(most).refillGreedy(1, fills))
                        .build())
            .tryConsumeAndReturnRemaining(1);
    if (!probe.isConsumed()) {
      throw new Refused(
          Refused.Reason.TOO_MANY,
          "That was asked too often; try again in %d minutes."
              .formatted(TimeUnit.NANOSECONDS.toMinutes(probe.getNanosToWaitForRefill()) + 1));
    }
  }
}
