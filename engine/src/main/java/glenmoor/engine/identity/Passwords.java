package glenmoor.engine.identity;

import glenmoor.engine.Refused;
import jakarta.inject.Inject;
import jakarta.inject.Named;
import java.time.Duration;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.RejectedExecutionException;
import java.util.concurrent.ThreadPoolExecutor;
import java.util.concurrent.TimeUnit;
import org.springframework.security.crypto.argon2.Argon2PasswordEncoder;

/**
 * Hashes and compares passwords by Argon2id (RFC 9106). Each takes tens of milliseconds of a
 * processor by intent, so at most two are at work at once, on threads of their own: many who sign
 * in at the same moment wait for each other and for nobody else.
 */
@Named
public final class Passwords {
  /**
   * What hashing one password costs whoever guesses.
   *
   * @param memoryKib kibibytes of memory
   * @param passes over that memory
   */
  public record Cost(int memoryKib, int passes) {
    /** As OWASP recommends for Argon2id with one lane. */
    public static final Cost USUAL = new Cost(19_456, 2);
  }

  private static final int SIDE_BY_SIDE = 2;
  private static final int WAITING = 100;
  private static final int SALT_BYTES = 16;
  private static final int HASH_BYTES = 32;

  private final Argon2PasswordEncoder argon2;
  private final ThreadPoolExecutor threads;

  @Inject
  public Passwords(Cost cost) {
    this(cost, SIDE_BY_SIDE, WAITING);
  }

  Passwords(Cost cost, int sideBySide, int waiting) {
    argon2 = new Argon2PasswordEncoder(SALT_BYTES, HASH_BYTES, 1, cost.memoryKib(), cost.passes());
    threads =
        new ThreadPoolExecutor(
            sideBySide,
            sideBySide,
            Duration.ofSeconds(30).toSeconds(),
            TimeUnit.SECONDS,
            new ArrayBlockingQueue<>(waiting),
            Thread.ofPlatform().daemon().name("passwords-", 0).factory());
    threads.allowCoreThreadTimeOut(true);
  }

  /**
   * The hash to keep of a password, with its salt and parameters.
   *
   * @throws Refused if too many wait already
   */
  String hash(String password) {
    return inTurn(() -> String.valueOf(argon2.encode(password)));
  }

  /**
   * Whether a password is the one that was hashed.
   *
   * @throws Refused if too many wait already
   */
  boolean matches(String password, String hash) {
    return inTurn(() -> argon2.matches(password, hash));
  }

  private <T> T inTurn(Callable<T> work) {
    try {
      return threads.submit(work).get();
    } catch (RejectedExecutionException full) {
      throw new Refused(
          Refused.Reason.TOO_MANY, "Too many are signing in at this moment; try again shortly.");
    } catch (ExecutionException failed) {
      throw new IllegalStateException(failed.getCause());
    } catch (InterruptedException stopped) {
      Thread.currentThread().interrupt();
      throw new Refused(Refused.Reason.NOT_NOW, "Stopped while signing in; try again.");
    }
  }
}
