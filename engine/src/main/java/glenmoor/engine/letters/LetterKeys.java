package glenmoor.engine.letters;

import jakarta.inject.Named;
import java.security.SecureRandom;
import java.util.Base64;
import org.apache.commons.codec.digest.DigestUtils;

/**
 * Keys that lead somebody from a letter to one thing they may do without signing in: 192 random
 * bits, of which only the SHA-256 (FIPS 180-4) is kept. So many bits need no salt and no slow hash.
 */
@Named
public final class LetterKeys {
  /** A longer one was never made here. */
  public static final int LONGEST = 100;

  private static final int BYTES = 24;

  private final SecureRandom random = new SecureRandom();

  /** A new one, as it stands in an address. */
  public String make() {
    var bytes = new byte[BYTES];
    random.nextBytes(bytes);
    return Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
  }

  /** What is kept of one. */
  public static byte[] hash(String key) {
    return DigestUtils.sha256(key);
  }
}
