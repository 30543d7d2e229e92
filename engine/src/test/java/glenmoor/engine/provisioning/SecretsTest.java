package glenmoor.engine.provisioning;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.util.Base64;
import java.util.List;
import java.util.stream.IntStream;
import javax.crypto.Cipher;
import javax.crypto.spec.GCMParameterSpec;
import javax.crypto.spec.SecretKeySpec;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class SecretsTest {
  private final Secrets secrets = new Secrets(List.of(new byte[32]));

  @Test
  void what_is_sealed_can_be_opened_with_the_same_key_and_read_by_nobody() {
    var sealed = secrets.seal("tide-7731-quay");
    assertThat(sealed).doesNotContain("tide");
    assertThat(secrets.open(sealed)).isEqualTo("tide-7731-quay");
  }

  @Test
  void the_same_secret_is_never_sealed_the_same_way_twice() {
    assertThat(secrets.seal("x")).isNotEqualTo(secrets.seal("x"));
  }

  @Test
  void another_key_opens_nothing() {
    var other = new byte[32];
    other[0] = 1;
    var sealed = secrets.seal("x");
    assertThatThrownBy(() -> new Secrets(List.of(other)).open(sealed))
        .hasMessageContaining("was the key file replaced?");
  }

  @Test
  void a_new_key_before_the_old_one_seals_and_both_open() {
    var newer = new byte[32];
    newer[0] = 7;
    var before = secrets.seal("x");
    var rotated = new Secrets(List.of(newer, new byte[32]));
    assertThat(rotated.open(before)).isEqualTo("x");
    var after = rotated.seal("y");
    assertThat(new Secrets(List.of(newer)).open(after)).isEqualTo("y");
    assertThatThrownBy(() -> secrets.open(after))
        .hasMessageContaining("was the key file replaced?");
  }

  @Test
  void what_was_sealed_before_keys_had_numbers_is_opened() throws GeneralSecurityException {
    var cipher = Cipher.getInstance("AES/GCM/NoPadding");
    var nonce = new byte[12];
    cipher.init(
        Cipher.ENCRYPT_MODE,
        new SecretKeySpec(new byte[32], "AES"),
        new GCMParameterSpec(128, nonce));
    var sealed = cipher.doFinal("tide".getBytes(StandardCharsets.UTF_8));
    var kept = ByteBuffer.allocate(nonce.length + sealed.length).put(nonce).put(sealed).array();
    assertThat(secrets.open(Base64.getEncoder().encodeToString(kept))).isEqualTo("tide");
  }

  @Test
  void passcodes_differ_and_can_be_read_out() {
    var passcodes = IntStream.range(0, 500).mapToObj(i -> secrets.passcode()).distinct().toList();
    assertThat(passcodes).hasSize(500);
    assertThat(passcodes)
        .allMatch(each -> each.matches("([a-hjkmnp-z2-9]{4}-){3}[a-hjkmnp-z2-9]{4}"));
  }

  @Test
  void a_key_file_that_is_no_key_says_how_to_make_one(@TempDir Path directory) throws IOException {
    var file = Files.writeString(directory.resolve("key"), "c2hvcnQ=");
    assertThatThrownBy(() -> Secrets.keyedBy(file)).hasMessageContaining("openssl rand -base64 32");
    assertThatThrownBy(() -> Secrets.keyedBy(directory.resolve("nowhere")))
        .hasMessageContaining("cannot be read");
  }
}
