package glenmoor.server.people;

import glenmoor.engine.Refused;
import glenmoor.engine.agenda.Clock;
import glenmoor.engine.people.Actor;
import glenmoor.engine.people.Duty;
import glenmoor.engine.people.SignIns;
import glenmoor.server.Lists;
import glenmoor.server.ServiceSettings;
import glenmoor.store.people.LoginMapper.TokenRow;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpStatus;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.security.web.context.SecurityContextRepository;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Signing in and out, who can sign in, and tokens for programs. */
@RestController
@RequestMapping("/api/v1")
class SessionApi {
  private static final int MOST_DAYS = 366;

  /** Who is signed in, and what time it is for the service. */
  record Session(
      boolean signedIn,
      String login,
      String name,
      @Nullable String worker,
      List<String> duties,
      Instant now,
      String zone,
      boolean clockMovable) {}

  record Credentials(String login, String password) {}

  record SignInBody(
      @Nullable String name, @Nullable String worker, String password, List<String> duties) {}

  record TokenBody(String login, String password, @Nullable String note, @Nullable Integer days) {}

  record ReasonBody(@Nullable String reason) {}

  /**
   * A token, without what would let somebody use it.
   *
   * @param state {@code in-force}, {@code expired} or {@code revoked}
   */
  record TokenShown(
      String key,
      String login,
      String note,
      String state,
      Instant createdAt,
      Instant expiresAt,
      @Nullable Instant revokedAt,
      String revokedBy) {
    static TokenShown of(TokenRow row) {
      var state =
          row.revokedAt() != null
              ? "revoked"
              : row.expiresAt().isAfter(Instant.now()) ? "in-force" : "expired";
      return new TokenShown(
          row.key(),
          row.login(),
          row.note(),
          state,
          row.createdAt(),
          row.expiresAt(),
          row.revokedAt(),
          row.revokedBy());
    }
  }

  private final SignIns signIns;
  private final SecurityContextRepository contexts;
  private final Clock clock;
  private final ServiceSettings settings;

  SessionApi(
      SignIns signIns, SecurityContextRepository contexts, Clock clock, ServiceSettings settings) {
    this.signIns = signIns;
    this.contexts = contexts;
    this.clock = clock;
    this.settings = settings;
  }

  @GetMapping("/session")
  Session session() {
    return Who.asks(signIns).map(this::of).orElseGet(this::nobody);
  }

  private Session nobody() {
    return new Session(false, "", "", null, List.of(), clock.instant(), zone(), clock.movable());
  }

  private String zone() {
    return settings.zone().getId();
  }

  private Session of(Actor actor) {
    return new Session(
        true,
        actor.login(),
        actor.displayName(),
        actor.worker(),
        actor.duties().stream().map(Duty::word).sorted().toList(),
        clock.instant(),
        zone(),
        clock.movable());
  }

  @PostMapping("/session")
  Session signIn(
      @RequestBody Credentials credentials,
      HttpServletRequest request,
      HttpServletResponse response) {
    // Asked before the password is looked at: one that is changed meanwhile ends this session.
    var epoch = signIns.epoch(credentials.login());
    var actor = known(credentials.login(), credentials.password());
    if (request.getSession(false) != null) {
      request.changeSessionId();
    }
    var context = SecurityContextHolder.createEmptyContext();
    context.setAuthentication(Who.inSession(actor, epoch));
    SecurityContextHolder.setContext(context);
    contexts.saveContext(context, request, response);
    return of(actor);
  }

  @DeleteMapping("/session")
  @ResponseStatus(HttpStatus.NO_CONTENT)
  void signOut(HttpServletRequest request) {
    var session = request.getSession(false);
    if (session != null) {
      session.invalidate();
    }
    SecurityContextHolder.clearContext();
  }

  /** Makes a token for programs; asks for the password again, so that a session is not enough. */
  @PostMapping("/tokens")
  SignIns.Token token(@RequestBody TokenBody body) {
    var days = body.days() == null ? 30 : body.days();
    if (days < 1 || days > MOST_DAYS) {
      throw Refused.badInput("A token is good for 1 to 366 days; this says " + days + ".");
    }
    return signIns.makeToken(
        body.note() == null ? "" : body.note(),
        Duration.ofDays(days),
        known(body.login(), body.password()));
  }

  private Actor known(String login, String password) {
    return signIns
        .withPassword(login, password)
        .orElseThrow(() ->
            new Refused(
                Refused.Reason.NOT_ALLOWED,
                "This name and password do not belong together. Names are written in small letters."));
  }

  @GetMapping("/sign-ins")
  Lists.Page<SignIns.SignIn> all(Actor actor) {
    return new Lists.Page<>(signIns.all(actor), null);
  }

  /** Takes a sign-in away, with its sessions and tokens. */
  @PostMapping("/sign-ins/{login}/take-away")
  SignIns.SignIn takeAway(@PathVariable String login, @RequestBody ReasonBody body, Actor actor) {
    return signIns.takeAway(login, body.reason() == null ? "" : body.reason(), actor);
  }

  @GetMapping("/tokens")
  Lists.Page<TokenShown> tokens(Actor actor) {
    return new Lists.Page<>(signIns.tokens(actor).stream().map(TokenShown::of).toList(), null);
  }

  @DeleteMapping("/tokens/{key}")
  @ResponseStatus(HttpStatus.NO_CONTENT)
  void revoke(@PathVariable String key, Actor actor) {
    signIns.revokeToken(key, actor);
  }

  @PutMapping("/sign-ins/{login}")
  SignIns.SignIn put(@PathVariable String login, @RequestBody SignInBody body, Actor actor) {
    return signIns.put(
        login,
        body.name() == null ? login : body.name(),
        body.worker(),
        body.password(),
        body.duties(),
        actor);
  }
}
