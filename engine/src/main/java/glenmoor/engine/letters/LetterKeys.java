package glenmoor.engine.letters;

import jakarta.inject.Named;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.security.SecureRandom;
import java.util.Base64;

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
    try {
      return MessageDigest.getInstance("SHA-256").digest(key.getBytes(StandardCharsets.UTF_8));
    } catch (NoSuchAlgorithmException impossible) {
      throw new IllegalStateException(impossible);
    }
  }
}
