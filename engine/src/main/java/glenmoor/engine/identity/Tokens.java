package glenmoor.engine.identity;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Permission;
import glenmoor.core.identity.IssuedToken;
import glenmoor.core.ledger.LedgerEntry;
import glenmoor.engine.Authorization;
import glenmoor.engine.Refused;
import glenmoor.engine.ledger.Ledger;
import glenmoor.engine.time.Clock;
import glenmoor.engine.time.Transactions;
import glenmoor.store.identity.SignInMapper;
import jakarta.inject.Named;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.apache.commons.codec.digest.DigestUtils;

/**
 * Tokens by which programs stand for whoever made them; of each only a hash is kept. A token may
 * carry less than its owner's duties hold, never more.
 */
@Named
public final class Tokens {
  private static final int TOKEN_BYTES = 32;
  private static final int LONGEST_NOTE = 200;

  /** A token that was made: shown once. */
  public record Token(String token, Instant expiresAt) {}

  /** What a token is to be. */
  public record Wanted(String note, Duration valid, Set<Permission> permissions) {}

  private final SignInMapper rows;
  private final SignIns signIns;
  private final Transactions transactions;
  private final Ledger ledger;
  private final Clock clock;
  private final SecureRandom random = new SecureRandom();

  public Tokens(
      SignInMapper rows, SignIns signIns, Transactions transactions, Ledger ledger, Clock clock) {
    this.rows = rows;
    this.signIns = signIns;
    this.transactions = transactions;
    this.ledger = ledger;
    this.clock = clock;
  }

  /** The actor whose token this is, unless it or their sign-in is over. */
  public Optional<Actor> actor(String token) {
    return Optional.ofNullable(rows.byToken(DigestUtils.sha256(token), Instant.now()))
        .flatMap(row ->
            signIns
                .named(row.login())
                .map(actor ->
                    row.permissions().isEmpty()
                        ? actor
                        : actor.limitedTo(permissions(row.permissions()))));
  }

  /** Those that this version still knows: a permission that went is carried by nobody. */
  private static Set<Permission> permissions(String words) {
    return Arrays.stream(words.split(","))
        .flatMap(word -> Permission.ofWord(word).stream())
        .collect(Collectors.toSet());
  }

  /**
   * Understands the words of permissions.
   *
   * @throws Refused if one is none
   */
  public static Set<Permission> read(List<String> words) {
    return words.stream()
        .map(word ->
            Permission.ofWord(word)
                .orElseThrow(() ->
                    Refused.badInput(
                        "There is no permission “%s”; there are %s."
                            .formatted(
                                word,
                                Arrays.stream(Permission.values())
                                    .map(Permission::word)
                                    .collect(Collectors.joining(", "))))))
        .collect(Collectors.toSet());
  }

  /** Makes a token for somebody who has just proven who they are. */
  public Token make(SignIns.SignedIn owner, Wanted wanted) {
    if (owner.mustChange()) {
      throw mustChange();
    }
    if (wanted.note().length() > LONGEST_NOTE) {
      throw Refused.badInput("The note of a token has at most 200 characters.");
    }
    var bytes = new byte[TOKEN_BYTES];
    random.nextBytes(bytes);
    var token = "glm_" + Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
    // Tokens live by real time: a demo whose clock is moved must not sign everybody out.
    var now = Instant.now();
    var expires = now.plus(wanted.valid());
    var words =
        wanted.permissions().stream()
            .map(Permission::word)
            .sorted()
            .collect(Collectors.joining(","));
    var login = owner.actor().login();
    transactions.run(() -> {
      rows.addToken(DigestUtils.sha256(token), login, wanted.note(), words, now, expires);
      ledger.append(
          entry(login, "token-made", login, Map.of("note", wanted.note(), "permissions", words)));
    });
    return new Token(token, expires);
  }

  /** What is said to whoever has to change their password before anything else. */
  public static Refused mustChange() {
    return new Refused(
        Refused.Reason.NOT_ALLOWED,
        "Your password was chosen by somebody else: change it first, with glenmoor sign-ins password or in the console.");
  }

  /** Tokens, the newest first: everybody's for those who see sign-ins, else the actor's own. */
  public List<IssuedToken> list(Actor actor) {
    return rows.tokens(actor.may(Permission.SEE_SIGN_INS) ? null : actor.login());
  }

  /**
   * Revokes a token: one's own, or anybody's for an administrator.
   *
   * @param key as {@link #list} shows it
   */
  public void revoke(String key, Actor actor) {
    var token =
        list(actor).stream()
            .filter(each -> each.key().equals(key))
            .findFirst()
            .orElseThrow(() ->
                Refused.notThere(
                    "You see no token “%s”; glenmoor sign-ins tokens shows those you do."
                        .formatted(key)));
    if (!token.login().equals(actor.login())) {
      Authorization.need(actor, Permission.MANAGE_SIGN_INS);
    }
    transactions.run(() -> {
      if (rows.revokeToken(key, actor.login(), Instant.now()) > 0) {
        ledger.append(
            entry(
                token.login(),
                "token-revoked",
                actor.login(),
                Map.of("token", key, "note", token.note())));
      }
    });
  }

  private LedgerEntry entry(String login, String what, String by, Map<String, Object> after) {
    return new LedgerEntry(clock.instant(), by, "", "login:" + login, what, Map.of(), after);
  }
}
