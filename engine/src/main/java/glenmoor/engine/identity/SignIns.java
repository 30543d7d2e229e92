package glenmoor.engine.identity;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Duty;
import glenmoor.core.authorization.Permission;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.core.people.Standing;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.StatedReason;
import glenmoor.engine.authorization.Duties;
import glenmoor.engine.jobs.Askers;
import glenmoor.engine.jobs.RecurringJob;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.identity.SignInMapper;
import glenmoor.store.identity.SignInMapper.SignInRow;
import glenmoor.store.people.PersonMapper;
import jakarta.inject.Named;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * Who can sign in, with a password (Argon2id, RFC 9106).
 *
 * <p>A sign-in stands and falls with its person: whoever has left can neither sign in nor go on,
 * from the first moment of the day on which they have left, whether or not the sweep that ends
 * their sign-in for good has come by. Another password, and each end, begins a new epoch: sessions
 * of an earlier one and all tokens are over.
 */
@Named
public final class SignIns implements RecurringJob.Owner, Askers {
  private static final int SHORTEST_PASSWORD = 10;
  private static final int LONGEST_PASSWORD = 1_000;
  private static final int LONGEST_LOGIN = 64;

  /**
   * Somebody who can sign in, for people to read.
   *
   * @param duties those that stand
   * @param endedAt when it was taken away, or ended with its person's standing; null while it may
   *     be used
   */
  public record SignIn(
      String login,
      String name,
      @Nullable String worker,
      List<Duties.Given> duties,
      boolean mustChange,
      @Nullable Instant endedAt,
      String endReason) {}

  /**
   * Somebody whose password was right.
   *
   * @param epoch that their session belongs to
   * @param mustChange whether nothing but a new password is open to them
   */
  public record SignedIn(Actor actor, int epoch, boolean mustChange) {}

  private final SignInMapper signIns;
  private final PersonMapper people;
  private final Duties duties;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Clock clock;
  private final Attempts attempts = new Attempts();
  private final Passwords passwords;
  private final String nobody;

  public SignIns(
      SignInMapper signIns,
      PersonMapper people,
      Duties duties,
      Passwords passwords,
      Transactions transactions,
      Ledger ledger,
      Clock clock) {
    this.passwords = passwords;
    nobody = passwords.hash("nobody has this password");
    this.signIns = signIns;
    this.people = people;
    this.duties = duties;
    this.transactions = transactions;
    this.ledger = ledger;
    this.clock = clock;
  }

  /**
   * Signs in; takes as long for a name that does not exist.
   *
   * @param address where the attempt comes from; those who fail from it wait longer each time
   * @throws Refused if name and password do not belong together, or there were too many attempts
   */
  public SignedIn signIn(String login, String password, String address) {
    var row = proven(login, password, address);
    transactions.run(
        () -> ledger.append(entry(login, "signed-in", login, Map.of("address", address))));
    return new SignedIn(actor(row), row.epoch(), row.mustChange());
  }

  private SignInRow proven(String login, String password, String address) {
    attempts.begin(login, address);
    var row = signIns.byName(login);
    var matches =
        passwords.matches(
            password.length() > LONGEST_PASSWORD ? "" : password,
            row == null ? nobody : row.passwordHash());
    if (row != null && matches && !isOver(row)) {
      attempts.succeeded(login, address);
      return row;
    }
    // What was typed for a name that nobody has may be a password: it is kept nowhere.
    var known = row == null ? "" : login;
    transactions.run(
        () -> ledger.append(entry(known, "sign-in-failed", "nobody", Map.of("address", address))));
    throw new Refused(
        Refused.Reason.NOT_ALLOWED,
        "This name and password do not belong together. Names are written in small letters.");
  }

  /** The actor with this name, unless their sign-in is over. */
  @Override
  public Optional<Actor> named(String login) {
    return Optional.ofNullable(signIns.byName(login)).filter(row -> !isOver(row)).map(this::actor);
  }

  /** The same for a session that was begun in an epoch. */
  public Optional<SignedIn> inSession(String login, int epoch) {
    return Optional.ofNullable(signIns.byName(login))
        .filter(row -> row.epoch() == epoch && !isOver(row))
        .map(row -> new SignedIn(actor(row), epoch, row.mustChange()));
  }

  private boolean isOver(SignInRow row) {
    return row.endedAt() != null || hasLeft(row);
  }

  private boolean hasLeft(SignInRow row) {
    return Standing.hasLeft(row.endsOn(), row.absentSince(), row.cutOffOn(), duties.today());
  }

  private Actor actor(SignInRow row) {
    return new Actor(row.name(), row.displayName(), row.workerNumber(), duties.inForce(row.name()));
  }

  /** The sign-ins of somebody that are in force. */
  public List<String> inForceOf(long person) {
    return signIns.ofPerson(person).stream()
        .filter(row -> !isOver(row))
        .map(SignInRow::name)
        .toList();
  }

  /** Ends for good, with their sessions and tokens, the sign-ins of people who have left. */
  public void endLeavers() {
    for (var row : signIns.candidates()) {
      if (hasLeft(row)) {
        transactions.run(() -> end(row.name(), "left", Actor.SERVICE));
      }
    }
  }

  /**
   * Takes a sign-in away, with its sessions and tokens.
   *
   * @throws Refused if it is the last administrator's
   */
  public SignIn takeAway(String login, String why, Actor actor) {
    Authorization.need(actor, Permission.MANAGE_SIGN_INS);
    var reason = new StatedReason(why);
    transactions.run(() -> {
      needed(login);
      duties.anotherAdministratorStays(login);
      end(login, reason.text(), actor);
    });
    return shown(login, actor);
  }

  private void end(String login, String reason, Actor actor) {
    if (signIns.end(login, reason, clock.instant()) == 0) {
      return;
    }
    signIns.revokeTokens(login, actor.login(), Instant.now());
    ledger.append(entry(login, "sign-in-ended", actor.login(), Map.of("reason", reason)));
  }

  private SignInRow needed(String login) {
    var row = signIns.byName(login);
    if (row == null) {
      throw Refused.notThere(
          "There is no sign-in “%s”; glenmoor sign-ins list shows those there are."
              .formatted(login));
    }
    return row;
  }

  private LedgerEntry entry(String login, String what, String by, Map<String, Object> after) {
    return new LedgerEntry(clock.instant(), by, "", "login:" + login, what, Map.of(), after);
  }

  /**
   * Makes the first administrator of an installation that has none, or has none any more; does
   * nothing while there is one.
   */
  public void first(String login, String password) {
    if (!transactions.run(duties::anAdministratorIsLeft)) {
      put(
          login,
          "First administrator",
          null,
          password,
          true,
          List.of(Assignment.of(Duty.ADMINISTRATOR)),
          Actor.SERVICE);
    }
  }

  /**
   * Makes or changes a sign-in.
   *
   * @param stays whether the password may stay; else it has to be changed before anything else
   * @param wanted the duties they have from now on; those they had besides end
   */
  public SignIn put(
      String login,
      String name,
      @Nullable String worker,
      String password,
      boolean stays,
      List<Assignment> wanted,
      Actor actor) {
    Authorization.need(actor, Permission.MANAGE_SIGN_INS);
    check(login);
    check(login, password);
    var hash = passwords.hash(password);
    transactions.run(() -> {
      var person = worker == null ? null : people.byWorker(worker);
      if (worker != null && person == null) {
        throw Refused.badInput("Nobody has the worker number " + worker + ".");
      }
      var shown = person == null ? name : person.name();
      signIns.put(login, person == null ? null : person.id(), shown, hash, !stays, clock.instant());
      duties.set(login, wanted, actor);
      signIns.revokeTokens(login, actor.login(), Instant.now());
      ledger.append(
          entry(
              login,
              "sign-in-set",
              actor.login(),
              Map.of("name", shown, "duties", wanted.stream().map(Assignment::words).toList())));
    });
    return shown(login, actor);
  }

  /**
   * Changes one's own password; sessions and tokens that were open with the old one end.
   *
   * @throws Refused if the old one is not right, or the new one will not do
   */
  public void changePassword(String login, String before, String after, String address) {
    var row = proven(login, before, address);
    check(login, after);
    if (before.equals(after)) {
      throw Refused.badInput("The new password is the one you have; choose another.");
    }
    var hash = passwords.hash(after);
    transactions.run(() -> {
      if (signIns.changePassword(login, hash, row.epoch()) == 0) {
        throw new Refused(
            Refused.Reason.NOT_NOW,
            "The password was changed, or the sign-in taken away, at this moment; sign in again.");
      }
      signIns.revokeTokens(login, login, Instant.now());
      ledger.append(entry(login, "password-changed", login, Map.of("address", address)));
    });
  }

  private SignIn shown(String login, Actor actor) {
    return shown(needed(login), duties.bySignIn(actor));
  }

  private SignIn shown(SignInRow row, Map<String, List<Duties.Given>> given) {
    return new SignIn(
        row.name(),
        row.displayName(),
        row.workerNumber(),
        given.getOrDefault(row.name(), List.of()),
        row.mustChange(),
        row.endedAt(),
        row.endedAt() == null && hasLeft(row) ? "left" : row.endReason());
  }

  private static void check(String login) {
    if (login.length() > LONGEST_LOGIN || !login.matches("[a-z][a-z0-9.-]{1,62}")) {
      throw Refused.badInput(
          "A sign-in name is made of small letters, digits, dots and hyphens; this is “%s”."
              .formatted(login.length() > LONGEST_LOGIN ? "too long" : login));
    }
    if (login.equals(Actor.SERVICE.login())) {
      throw Refused.badInput(
          "%s is the name under which the service itself acts; choose another.".formatted(login));
    }
  }

  private static void check(String login, String password) {
    if (password.length() < SHORTEST_PASSWORD) {
      throw Refused.badInput("A password has at least 10 characters.");
    }
    if (password.length() > LONGEST_PASSWORD) {
      throw Refused.badInput("A password has at most 1,000 characters.");
    }
    if (password.equalsIgnoreCase(login)) {
      throw Refused.badInput("A password is another word than the sign-in's name.");
    }
  }

  public List<SignIn> all(Actor actor) {
    var given = duties.bySignIn(actor);
    return signIns.all().stream().map(row -> shown(row, given)).toList();
  }

  @Override
  public List<RecurringJob> recurring() {
    return List.of(
        new RecurringJob(
            "sign-ins", "ends the sign-ins of leavers", Duration.ofSeconds(10), this::endLeavers));
  }
}
