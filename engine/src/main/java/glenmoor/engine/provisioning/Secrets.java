package glenmoor.engine.provisioning;

import com.google.crypto.tink.Aead;
import com.google.crypto.tink.InsecureSecretKeyAccess;
import com.google.crypto.tink.KeysetHandle;
import com.google.crypto.tink.RegistryConfiguration;
import com.google.crypto.tink.aead.AeadConfig;
import com.google.crypto.tink.aead.AesGcmKey;
import com.google.crypto.tink.aead.AesGcmParameters;
import com.google.crypto.tink.util.SecretBytes;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.SecureRandom;
import java.util.Base64;
import java.util.List;
import org.apache.commons.codec.digest.DigestUtils;

/**
 * Seals what must not be read in the database: AES-256-GCM (NIST SP 800-38D), a fresh nonce each,
 * with the number of the key in front. There may be several keys: the first one seals, all of them
 * open, so a key is replaced by putting a new one before it.
 */
public final class Secrets {
  private static final int KEY_BYTES = 32;
  private static final int NONCE_BYTES = 12;
  private static final int TAG_BYTES = 16;
  private static final byte[] NO_CONTEXT = {};
  private static final String PASSCODE_LETTERS = "abcdefghjkmnpqrstuvwxyz23456789";
  private static final int PASSCODE_GROUPS = 4;
  private static final int PASSCODE_GROUP = 4;

  static {
    try {
      AeadConfig.register();
    } catch (GeneralSecurityException impossible) {
      throw new IllegalStateException(impossible);
    }
  }

  private final SecureRandom random = new SecureRandom();
  private final Aead sealing;

  /**
   * @param keys of 32 bytes each, the one that seals first
   */
  public Secrets(List<byte[]> keys) {
    for (var key : keys) {
      if (key.length != KEY_BYTES) {
        throw new IllegalArgumentException("A key must have 32 bytes; one has " + key.length + ".");
      }
    }
    try {
      var keyset = KeysetHandle.newBuilder();
      for (var i = 0; i < keys.size(); i++) {
        var numbered = KeysetHandle.importKey(numbered(keys.get(i))).withFixedId(id(keys.get(i)));
        keyset.addEntry(i == 0 ? numbered.makePrimary() : numbered);
      }
      for (var key : keys) {
        // What was sealed before keys had numbers is opened too.
        keyset.addEntry(KeysetHandle.importKey(plain(key)).withRandomId());
      }
      sealing = keyset.build().getPrimitive(RegistryConfiguration.get(), Aead.class);
    } catch (GeneralSecurityException bad) {
      throw new IllegalArgumentException("The same key is given twice; keep one.", bad);
    }
  }

  private static AesGcmKey numbered(byte[] key) throws GeneralSecurityException {
    return AesGcmKey.builder()
        .setParameters(parameters(AesGcmParameters.Variant.TINK))
        .setKeyBytes(SecretBytes.copyFrom(key, InsecureSecretKeyAccess.get()))
        .setIdRequirement(id(key))
        .build();
  }

  private static AesGcmKey plain(byte[] key) throws GeneralSecurityException {
    return AesGcmKey.builder()
        .setParameters(parameters(AesGcmParameters.Variant.NO_PREFIX))
        .setKeyBytes(SecretBytes.copyFrom(key, InsecureSecretKeyAccess.get()))
        .build();
  }

  private static AesGcmParameters parameters(AesGcmParameters.Variant variant)
      throws GeneralSecurityException {
    return AesGcmParameters.builder()
        .setKeySizeBytes(KEY_BYTES)
        .setIvSizeBytes(NONCE_BYTES)
        .setTagSizeBytes(TAG_BYTES)
        .setVariant(variant)
        .build();
  }

  /** A key's number is the same on every service: it is made of the key. */
  private static int id(byte[] key) throws GeneralSecurityException {
    return ByteBuffer.wrap(DigestUtils.sha256(key)).getInt();
  }

  /** Reads keys, a line each of 32 bytes in base64, from a file. */
  public static Secrets keyedBy(Path file) {
    try {
      return new Secrets(
          Files.readAllLines(file).stream()
              .map(String::strip)
              .filter(line -> !line.isEmpty())
              .map(line -> Base64.getDecoder().decode(line))
              .toList());
    } catch (IOException unreadable) {
      throw new IllegalArgumentException(
          "The key file %s cannot be read. Make one with: openssl rand -base64 32 > %s"
              .formatted(file, file));
    } catch (IllegalArgumentException bad) {
      throw new IllegalArgumentException(
          "The key file %s does not hold 32 bytes in base64, or several lines of them (%s). Make one with: openssl rand -base64 32 > %s"
              .formatted(file, bad.getMessage(), file));
    }
  }

  public String seal(String secret) {
    try {
      return Base64.getEncoder()
          .encodeToString(sealing.encrypt(secret.getBytes(StandardCharsets.UTF_8), NO_CONTEXT));
    } catch (GeneralSecurityException impossible) {
      throw new IllegalStateException(impossible);
    }
  }

  public String open(String sealed) {
    try {
      return new String(
          sealing.decrypt(Base64.getDecoder().decode(sealed), NO_CONTEXT), StandardCharsets.UTF_8);
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
