package glenmoor.engine.provisioning;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.SecureRandom;
import java.util.Base64;
import javax.crypto.Cipher;
import javax.crypto.spec.GCMParameterSpec;
import javax.crypto.spec.SecretKeySpec;

/**
 * Seals what must not be read in the database: AES-256-GCM (NIST SP 800-38D), a fresh nonce each.
 */
public final class Secrets {
  private static final int KEY_BYTES = 32;
  private static final int NONCE_BYTES = 12;
  private static final int TAG_BITS = 128;
  private static final String PASSCODE_LETTERS = "abcdefghjkmnpqrstuvwxyz23456789";
  private static final int PASSCODE_GROUPS = 4;
  private static final int PASSCODE_GROUP = 4;

  private final SecureRandom random = new SecureRandom();
  private final SecretKeySpec key;

  public Secrets(byte[] key) {
    if (key.length != KEY_BYTES) {
      throw new IllegalArgumentException("The key must have 32 bytes; it has " + key.length + ".");
    }
    this.key = new SecretKeySpec(key, "AES");
  }

  /** Reads the key, 32 bytes in base64, from a file. */
  public static Secrets keyedBy(Path file) {
    try {
      return new Secrets(Base64.getDecoder().decode(Files.readString(file).strip()));
    } catch (IOException unreadable) {
      throw new IllegalArgumentException(
          "The key file %s cannot be read. Make one with: openssl rand -base64 32 > %s"
              .formatted(file, file));
    } catch (IllegalArgumentException bad) {
      throw new IllegalArgumentException(
          "The key file %s does not hold 32 bytes in base64 (%s). Make one with: openssl rand -base64 32 > %s"
              .formatted(file, bad.getMessage(), file));
    }
  }

  public String seal(String secret) {
    try {
      var nonce = new byte[NONCE_BYTES];
      random.nextBytes(nonce);
      var cipher = Cipher.getInstance("AES/GCM/NoPadding");
      cipher.init(Cipher.ENCRYPT_MODE, key, new GCMParameterSpec(TAG_BITS, nonce));
      var sealed = cipher.doFinal(secret.getBytes(StandardCharsets.UTF_8));
      return Base64.getEncoder()
          .encodeToString(
              ByteBuffer.allocate(NONCE_BYTES + sealed.length).put(nonce).put(sealed).array());
    } catch (GeneralSecurityException impossible) {
      throw new IllegalStateException(impossible);
    }
  }

  public String open(String sealed) {
    try {
      var bytes = Base64.getDecoder().decode(sealed);
      var cipher = Cipher.getInstance("AES/GCM/NoPadding");
      cipher.init(Cipher.DECRYPT_MODE, key, new GCMParameterSpec(TAG_BITS, bytes, 0, NONCE_BYTES));
      return new String(
          cipher.doFinal(bytes, NONCE_BYTES, bytes.length - NONCE_BYTES), StandardCharsets.UTF_8);
    } catch (GeneralSecurityException wrongKey) {
      throw new IllegalStateException(
          "A sealed secret cannot be opened: was the key file replaced?", wrongKey);
    }
  }

  /** A passcode that can be read out over a radio: four groups of four. */
  public String passcode() {
    var out = new StringBuilder();
    for (var i = 0; i < PASSCODE_GROUPS * PASSCODE_GROUP; i++) {
      if (i > 0 && i % PASSCODE_GROUP == 0) {
        out.append('-');
      }
      out.append(PASSCODE_LETTERS.charAt(random.nextInt(PASSCODE_LETTERS.length())));
    }
    return out.toString();
  }
}
