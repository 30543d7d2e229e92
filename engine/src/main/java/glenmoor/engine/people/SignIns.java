package glenmoor.engine.people;

import glenmoor.core.ledger.LedgerEntry;
import glenmoor.engine.Refused;
import glenmoor.engine.agenda.Clock;
import glenmoor.engine.agenda.Transactions;
import glenmoor.engine.ledger.Ledger;
import glenmoor.store.people.LoginMapper;
import glenmoor.store.people.LoginMapper.LoginRow;
import glenmoor.store.people.PersonMapper;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import org.springframework.security.crypto.argon2.Argon2PasswordEncoder;

/**
 * Who can sign in, with a password (Argon2id, RFC 9106) or a token of which only a hash is kept.
 */
public final class SignIns {
  private static final int SHORTEST_PASSWORD = 10;
  private static final int TOKEN_BYTES = 32;
  private static final Argon2PasswordEncoder PASSWORDS =
      new Argon2PasswordEncoder(16, 32, 1, 19_456, 2);

  /** Somebody who can sign in, for people to read. */
  public record SignIn(String login, String name, @Nullable String worker, List<String> duties) {}

  /** A token that was made: shown once. */
  public record Token(String token, Instant expiresAt) {}

  private final LoginMapper logins;
  private final PersonMapper people;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Clock clock;
  private final SecureRandom random = new SecureRandom();
  private final String nobody = PASSWORDS.encode("nobody has this password");

  public SignIns(
      LoginMapper logins,
      PersonMapper people,
      Transactions transactions,
      Ledger ledger,
      Clock clock) {
    this.logins = logins;
    this.people = people;
    this.transactions = transactions;
    this.ledger = ledger;
    this.clock = clock;
  }

  /** The actor with this name and password; takes as long for a name that does not exist. */
  public Optional<Actor> withPassword(String login, String password) {
    var row = logins.byName(login);
    var matches = PASSWORDS.matches(password, row == null ? nobody : row.passwordHash());
    return row != null && matches ? Optional.of(actor(row)) : Optional.empty();
  }

  /** The actor whose token this is, unless it has expired. */
  public Optional<Actor> withToken(String token) {
    return Optional.ofNullable(logins.loginOfToken(hash(token), Instant.now()))
        .flatMap(this::named);
  }

  public Optional<Actor> named(String login) {
    return Optional.ofNullable(logins.byName(login)).map(this::actor);
  }

  private Actor actor(LoginRow row) {
    var duties =
        logins.duties(row.name()).stream()
            .flatMap(word -> Duty.ofWord(word).stream())
            .collect(Collectors.toUnmodifiableSet());
    return new Actor(row.name(), row.displayName(), row.workerNumber(), duties);
  }

  /**
   * Makes the first administrator of an empty installation; does nothing once anybody can sign in.
   */
  public void first(String login, String password) {
    if (logins.all().isEmpty()) {
      put(login, "First administrator", null, password, List.of("administrator"), Actor.SERVICE);
    }
  }

  /** Makes or changes a sign-in. */
  public SignIn put(
      String login,
      String name,
      @Nullable String worker,
      String password,
      List<String> duties,
      Actor actor) {
    Allow.managingSignIns(actor);
    check(login, password, duties);
    transactions.run(() -> {
      var person = worker == null ? null : people.byWorker(worker);
      if (worker != null && person == null) {
        throw Refused.badInput("Nobody has the worker number " + worker + ".");
      }
      var shown = person == null ? name : person.name();
      logins.put(
          login,
          person == null ? null : person.id(),
          shown,
          String.valueOf(PASSWORDS.encode(password)),
          clock.instant());
      logins.dropDuties(login);
      duties.forEach(duty -> logins.addDuty(login, duty));
      ledger.append(
          new LedgerEntry(
              clock.instant(),
              actor.login(),
              "",
              "login:" + login,
              "sign-in-set",
              Map.of(),
              Map.of("name", shown, "duties", duties)));
    });
    return all(actor).stream().filter(each -> each.login().equals(login)).findFirst().orElseThrow();
  }

  private static void check(String login, String password, List<String> duties) {
    if (!login.matches("[a-z][a-z0-9.-]{1,62}")) {
      throw Refused.badInput(
          "A sign-in name is made of small letters, digits, dots and hyphens; this is “%s”."
              .formatted(login));
    }
    if (password.length() < SHORTEST_PASSWORD) {
      throw Refused.badInput("A password has at least 10 characters.");
    }
    for (var duty : duties) {
      if (Duty.ofWord(duty).isEmpty()) {
        throw Refused.badInput("There is no duty “%s”.".formatted(duty));
      }
    }
  }

  public List<SignIn> all(Actor actor) {
    Allow.managingSignIns(actor);
    return logins.all().stream()
        .map(row ->
            new SignIn(
                row.name(), row.displayName(), row.workerNumber(), logins.duties(row.name())))
        .toList();
  }

  /** Makes a token for the actor themselves. */
  public Token makeToken(String note, Duration valid, Actor actor) {
    var bytes = new byte[TOKEN_BYTES];
    random.nextBytes(bytes);
    var token = "glm_" + Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
    // Tokens live by real time: a demo whose clock is moved must not sign everybody out.
    var now = Instant.now();
    transactions.run(() -> {
      logins.addToken(hash(token), actor.login(), note, now, now.plus(valid));
      ledger.append(
          new LedgerEntry(
              clock.instant(),
              actor.login(),
              "",
              "login:" + actor.login(),
              "token-made",
              Map.of(),
              Map.of("note", note)));
    });
    return new Token(token, now.plus(valid));
  }

  private static byte[] hash(String token) {
    try {
      return MessageDigest.getInstance("SHA-256").digest(token.getBytes(StandardCharsets.UTF_8));
    } catch (NoSuchAlgorithmException impossible) {
      throw new IllegalStateException(impossible);
    }
  }
}
