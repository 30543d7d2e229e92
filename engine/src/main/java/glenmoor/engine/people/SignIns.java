package glenmoor.engine.people;

import glenmoor.core.ledger.LedgerEntry;
import glenmoor.engine.Refused;
import glenmoor.engine.agenda.Clock;
import glenmoor.engine.agenda.Transactions;
import glenmoor.engine.definitions.Catalogues;
import glenmoor.engine.ledger.Ledger;
import glenmoor.store.people.LoginMapper;
import glenmoor.store.people.LoginMapper.LoginRow;
import glenmoor.store.people.LoginMapper.TokenRow;
import glenmoor.store.people.PersonMapper;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;

/**
 * Who can sign in, with a password (Argon2id, RFC 9106) or a token of which only a hash is kept.
 *
 * <p>A sign-in stands and falls with its person: whoever has left can neither sign in nor go on,
 * from the first moment of the day on which they have left, whether or not the sweep that ends
 * their sign-in for good has come by. Another password, and each end, begins a new epoch: sessions
 * of an earlier one and all tokens are over.
 */
public final class SignIns {
  private static final int SHORTEST_PASSWORD = 10;
  private static final int LONGEST_REASON = 1_000;
  private static final int TOKEN_BYTES = 32;

  /**
   * Somebody who can sign in, for people to read.
   *
   * @param endedAt when it was taken away, or ended with its person's standing; null while it may
   *     be used
   */
  public record SignIn(
      String login,
      String name,
      @Nullable String worker,
      List<String> duties,
      @Nullable Instant endedAt,
      String endReason) {}

  /** A token that was made: shown once. */
  public record Token(String token, Instant expiresAt) {}

  private final LoginMapper logins;
  private final PersonMapper people;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Catalogues catalogues;
  private final Clock clock;
  private final SecureRandom random = new SecureRandom();
  private final Passwords passwords = new Passwords();
  private final String nobody = passwords.hash("nobody has this password");

  public SignIns(
      LoginMapper logins,
      PersonMapper people,
      Transactions transactions,
      Ledger ledger,
      Catalogues catalogues,
      Clock clock) {
    this.logins = logins;
    this.people = people;
    this.transactions = transactions;
    this.ledger = ledger;
    this.catalogues = catalogues;
    this.clock = clock;
  }

  /** The actor with this name and password; takes as long for a name that does not exist. */
  public Optional<Actor> withPassword(String login, String password) {
    var row = logins.byName(login);
    var matches = passwords.matches(password, row == null ? nobody : row.passwordHash());
    return Optional.ofNullable(row).filter(known -> matches && !isOver(known)).map(this::actor);
  }

  /** The actor whose token this is, unless it has expired. */
  public Optional<Actor> withToken(String token) {
    return Optional.ofNullable(logins.loginOfToken(hash(token), Instant.now()))
        .flatMap(this::named);
  }

  /** The actor with this name, unless their sign-in is over. */
  public Optional<Actor> named(String login) {
    return Optional.ofNullable(logins.byName(login)).filter(row -> !isOver(row)).map(this::actor);
  }

  /** The same for a session that was begun in an epoch. */
  public Optional<Actor> inSession(String login, int epoch) {
    return Optional.ofNullable(logins.byName(login))
        .filter(row -> row.epoch() == epoch && !isOver(row))
        .map(this::actor);
  }

  /** The epoch that a session belongs to which is begun now; 0 for a name that does not exist. */
  public int epoch(String login) {
    var row = logins.byName(login);
    return row == null ? 0 : row.epoch();
  }

  private boolean isOver(LoginRow row) {
    return row.endedAt() != null || hasLeft(row);
  }

  private boolean hasLeft(LoginRow row) {
    var today = today();
    var absent = row.absentSince();
    var end = row.endsOn();
    return absent != null && !today.isBefore(absent) || end != null && today.isAfter(end);
  }

  private LocalDate today() {
    return clock.instant().atZone(catalogues.zone()).toLocalDate();
  }

  /** Ends for good, with their sessions and tokens, the sign-ins of people who have left. */
  public void endLeavers() {
    for (var login : logins.ofLeavers(today())) {
      transactions.run(() -> end(login, "left", Actor.SERVICE));
    }
  }

  /**
   * Takes a sign-in away, with its sessions and tokens.
   *
   * @throws Refused if it is the last administrator's
   */
  public SignIn takeAway(String login, String reason, Actor actor) {
    Allow.managingSignIns(actor);
    if (reason.isBlank() || reason.length() > LONGEST_REASON) {
      throw Refused.badInput(
          "Say why, in at most %d characters: it is kept with the sign-in."
              .formatted(LONGEST_REASON));
    }
    transactions.run(() -> {
      if (logins.byName(login) == null) {
        throw noSuch(login);
      }
      anAdministratorIsLeft(login);
      end(login, reason, actor);
    });
    return shown(login);
  }

  private void end(String login, String reason, Actor actor) {
    if (logins.end(login, reason, clock.instant()) == 0) {
      return;
    }
    logins.revokeTokens(login, actor.login(), Instant.now());
    ledger.append(entry(login, "sign-in-ended", actor, Map.of("reason", reason)));
  }

  private void anAdministratorIsLeft(String login) {
    var administrator = Duty.ADMINISTRATOR.word();
    if (logins.duties(login).contains(administrator)
        && logins.othersWithDuty(administrator, login) == 0) {
      throw new Refused(
          Refused.Reason.NOT_NOW,
          "%s is the last administrator; give somebody else the duty first.".formatted(login));
    }
  }

  private static Refused noSuch(String login) {
    return Refused.notThere(
        "There is no sign-in “%s”; glenmoor sign-ins list shows those there are.".formatted(login));
  }

  private LedgerEntry entry(String login, String what, Actor actor, Map<String, Object> after) {
    return new LedgerEntry(
        clock.instant(), actor.login(), "", "login:" + login, what, Map.of(), after);
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
    var hash = passwords.hash(password);
    transactions.run(() -> {
      var person = worker == null ? null : people.byWorker(worker);
      if (worker != null && person == null) {
        throw Refused.badInput("Nobody has the worker number " + worker + ".");
      }
      var shown = person == null ? name : person.name();
      if (!duties.contains(Duty.ADMINISTRATOR.word())) {
        anAdministratorIsLeft(login);
      }
      logins.put(login, person == null ? null : person.id(), shown, hash, clock.instant());
      logins.dropDuties(login);
      duties.forEach(duty -> logins.addDuty(login, duty));
      logins.revokeTokens(login, actor.login(), Instant.now());
      ledger.append(entry(login, "sign-in-set", actor, Map.of("name", shown, "duties", duties)));
    });
    return shown(login);
  }

  private SignIn shown(String login) {
    var row = logins.byName(login);
    if (row == null) {
      throw noSuch(login);
    }
    return shown(row);
  }

  private SignIn shown(LoginRow row) {
    return new SignIn(
        row.name(),
        row.displayName(),
        row.workerNumber(),
        logins.duties(row.name()),
        row.endedAt(),
        row.endedAt() == null && hasLeft(row) ? "left" : row.endReason());
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
    Allow.seeingSignIns(actor);
    return logins.all().stream().map(this::shown).toList();
  }

  /** Tokens, the newest first: everybody's for those who see everything, else the actor's own. */
  public List<TokenRow> tokens(Actor actor) {
    return logins.tokens(Allow.seesAllWork(actor) ? null : actor.login());
  }

  /**
   * Revokes a token: one's own, or anybody's for an administrator.
   *
   * @param key as {@link #tokens} shows it
   */
  public void revokeToken(String key, Actor actor) {
    var token =
        tokens(actor).stream()
            .filter(each -> each.key().equals(key))
            .findFirst()
            .orElseThrow(() ->
                Refused.notThere(
                    "You see no token “%s”; glenmoor sign-ins tokens shows those you do."
                        .formatted(key)));
    if (!token.login().equals(actor.login())) {
      Allow.managingSignIns(actor);
    }
    transactions.run(() -> {
      if (logins.revokeToken(key, actor.login(), Instant.now()) > 0) {
        ledger.append(
            entry(
                token.login(), "token-revoked", actor, Map.of("token", key, "note", token.note())));
      }
    });
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
      ledger.append(entry(actor.login(), "token-made", actor, Map.of("note", note)));
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
