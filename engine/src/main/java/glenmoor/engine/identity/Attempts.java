package glenmoor.engine.identity;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import glenmoor.engine.Refused;
import io.github.bucket4j.Bucket;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;

/**
 * Slows down who tries passwords. Each failure takes from three allowances that fill again with
 * time: of the sign-in at this address, of the sign-in from addresses it was never used at, and of
 * the address. So a stranger who tries somebody's name wears out their own, not the one of the
 * place where that person signs in.
 *
 * <p>Kept by each replica for itself, by real time.
 */
final class Attempts {
  private static final int OF_BOTH = 8;
  private static final Duration OF_BOTH_FILLS = Duration.ofSeconds(10);
  private static final int OF_SIGN_IN = 30;
  private static final Duration OF_SIGN_IN_FILLS = Duration.ofSeconds(30);
  private static final int OF_ADDRESS = 300;
  private static final Duration OF_ADDRESS_FILLS = Duration.ofMillis(200);
  private static final int MOST = 100_000;

  private final Cache<String, Bucket> buckets =
      Caffeine.newBuilder().maximumSize(MOST).expireAfterAccess(Duration.ofHours(3)).build();
  private final Cache<String, Boolean> known =
      Caffeine.newBuilder().maximumSize(MOST).expireAfterAccess(Duration.ofDays(30)).build();

  /**
   * @throws Refused with how long to wait, if there were too many failures
   */
  void begin(String login, String address) {
    // Taken before the password is looked at, so that many at the same moment are counted too.
    var taken = new ArrayList<Bucket>();
    for (var bucket : concerned(login, address)) {
      var probe = bucket.tryConsumeAndReturnRemaining(1);
      if (!probe.isConsumed()) {
        taken.forEach(each -> each.addTokens(1));
        throw new Refused(
            Refused.Reason.TOO_MANY,
            "Too many attempts with a wrong password; try again in %d s."
                .formatted(TimeUnit.NANOSECONDS.toSeconds(probe.getNanosToWaitForRefill()) + 1));
      }
      taken.add(bucket);
    }
  }

  /** The password was right: nothing is counted. */
  void succeeded(String login, String address) {
    concerned(login, address).forEach(each -> each.addTokens(1));
    known.put(place(login, address), true);
  }

  private List<Bucket> concerned(String login, String address) {
    return known.getIfPresent(place(login, address)) == null
        ? List.of(both(login, address), ofAddress(address), ofSignIn(login))
        : List.of(both(login, address), ofAddress(address));
  }

  private Bucket both(String login, String address) {
    return bucket("both " + place(login, address), OF_BOTH, OF_BOTH_FILLS);
  }

  private Bucket ofSignIn(String login) {
    return bucket("sign-in " + login, OF_SIGN_IN, OF_SIGN_IN_FILLS);
  }

  private Bucket ofAddress(String address) {
    return bucket("address " + address, OF_ADDRESS, OF_ADDRESS_FILLS);
  }

  private static String place(String login, String address) {
    return login + " at " + address;
  }

  private Bucket bucket(String key, int most, Duration fills) {
    return buckets.get(
        key,
        made ->
            Bucket.builder()
                .addLimit(limit -> limit.capacity(most).refillGreedy(1, fills))
                .build());
  }
}
