package glenmoor.engine.requests;

import glenmoor.store.requests.DecisionKeyMapper;
import glenmoor.store.requests.DecisionKeyMapper.KeyRow;
import jakarta.inject.Named;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.Base64;

/** Makes the keys that lead approvers to a decision. */
@Named
final class KeyMaking {
  private static final int BYTES = 24;

  private final DecisionKeyMapper keys;
  private final SecureRandom random = new SecureRandom();

  KeyMaking(DecisionKeyMapper keys) {
    this.keys = keys;
  }

  /** A key for one person and line; only its hash is kept. */
  String make(long line, long person, Instant now, Instant expires) {
    var bytes = new byte[BYTES];
    random.nextBytes(bytes);
    var key = Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
    keys.insert(new KeyRow(hash(key), line, person, now, expires, null));
    return key;
  }

  static byte[] hash(String key) {
    try {
      return MessageDigest.getInstance("SHA-256").digest(key.getBytes(StandardCharsets.UTF_8));
    } catch (NoSuchAlgorithmException impossible) {
      throw new IllegalStateException(impossible);
    }
  }
}
