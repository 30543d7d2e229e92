package glenmoor.engine.identity;

import static org.assertj.core.api.Assertions.assertThat;

import glenmoor.engine.Refused;
import java.util.ArrayList;
import java.util.concurrent.ConcurrentLinkedQueue;
import org.junit.jupiter.api.Test;

/** Passwords are compared in turn, and a flood of them is turned away. */
class PasswordsTest {
  private static final String PASSWORD = "harbour lights";

  @Test
  void a_hash_is_argon2id_with_its_parameters_and_never_the_same_twice() {
    var passwords = new Passwords(Passwords.Cost.USUAL);
    var hash = passwords.hash(PASSWORD);
    assertThat(hash).startsWith("$argon2id$v=19$m=19456,t=2,p=1$");
    assertThat(passwords.hash(PASSWORD)).isNotEqualTo(hash);
    assertThat(passwords.matches(PASSWORD, hash)).isTrue();
    assertThat(passwords.matches(PASSWORD + " ", hash)).isFalse();
  }

  @Test
  void a_flood_waits_in_a_short_line_and_the_rest_is_turned_away_with_a_sentence()
      throws InterruptedException {
    var passwords = new Passwords(Passwords.Cost.USUAL, 1, 3);
    var hash = passwords.hash(PASSWORD);
    var answers = new ConcurrentLinkedQueue<String>();
    var flood = new ArrayList<Thread>();
    for (var i = 0; i < 40; i++) {
      flood.add(
          Thread.ofVirtual()
              .start(() -> {
                try {
                  answers.add(String.valueOf(passwords.matches(PASSWORD, hash)));
                } catch (Refused refused) {
                  answers.add(refused.reason() + ": " + refused.getMessage());
                }
              }));
    }
    for (var each : flood) {
      each.join();
    }
    assertThat(answers).hasSize(40).contains("true");
    assertThat(answers)
        .contains("TOO_MANY: Too many are signing in at this moment; try again shortly.");
    assertThat(answers).doesNotContain("false");
    assertThat(passwords.matches(PASSWORD, hash)).as("and it goes on").isTrue();
  }
}
