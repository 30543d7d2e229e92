package glenmoor.server.identity;

import glenmoor.core.authorization.Actor;
import glenmoor.core.authorization.Assignment;
import glenmoor.core.authorization.Permission;
import glenmoor.engine.identity.SignIns;
import glenmoor.engine.identity.SignIns.SignedIn;
import glenmoor.engine.time.Clock;
import glenmoor.server.ServiceSettings;
import glenmoor.server.authorization.ForNobody;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import jakarta.validation.Valid;
import jakarta.validation.constraints.NotNull;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.http.HttpStatus;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.security.web.context.SecurityContextRepository;
import org.springframework.security.web.csrf.CsrfTokenRepository;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Signing in and out, and one's own password. */
@RestController
@RequestMapping("/api/v1")
class SessionApi {
  /**
   * Who is signed in, and what time it is for the service.
   *
   * @param duties those in force, for people to read
   * @param permissions the words of what they may do somewhere
   * @param mustChangePassword whether nothing but a new password is open to them
   */
  record Session(
      boolean signedIn,
      String login,
      String name,
      @Nullable String worker,
      List<String> duties,
      List<String> permissions,
      boolean mustChangePassword,
      Instant now,
      String zone,
      boolean clockMovable) {}

  record Credentials(@NotNull String login, @NotNull String password) {}

  record NewPassword(
      @NotNull String login, @NotNull String password, @NotNull String newPassword) {}

  private final SignIns signIns;
  private final Who who;
  private final SecurityContextRepository contexts;
  private final CsrfTokenRepository forgery;
  private final ApplicationEventPublisher events;
  private final Clock clock;
  private final ServiceSettings settings;

  SessionApi(
      SignIns signIns,
      Who who,
      SecurityContextRepository contexts,
      CsrfTokenRepository forgery,
      ApplicationEventPublisher events,
      Clock clock,
      ServiceSettings settings) {
    this.signIns = signIns;
    this.who = who;
    this.contexts = contexts;
    this.forgery = forgery;
    this.events = events;
    this.clock = clock;
    this.settings = settings;
  }

  @ForNobody
  @GetMapping("/session")
  Session session() {
    return who.asks().map(this::of).orElseGet(this::nobody);
  }

  private Session nobody() {
    return new Session(
        false, "", "", null, List.of(), List.of(), false, clock.instant(), zone(), clock.movable());
  }

  private String zone() {
    return settings.zone().getId();
  }

  private Session of(SignedIn signedIn) {
    var actor = signedIn.actor();
    return new Session(
        true,
        actor.login(),
        actor.displayName(),
        actor.worker(),
        actor.duties().stream().map(Assignment::words).sorted().toList(),
        permissions(actor),
        signedIn.mustChange(),
        clock.instant(),
        zone(),
        clock.movable());
  }

  private static List<String> permissions(Actor actor) {
    return Arrays.stream(Permission.values())
        .filter(actor::maySomewhere)
        .map(Permission::word)
        .toList();
  }

  @ForNobody
  @PostMapping("/session")
  Session signIn(
      @Valid @RequestBody Credentials credentials,
      HttpServletRequest request,
      HttpServletResponse response) {
    var signedIn =
        signIns.signIn(credentials.login(), credentials.password(), request.getRemoteAddr());
    if (request.getSession(false) != null) {
      request.changeSessionId();
    }
    var context = SecurityContextHolder.createEmptyContext();
    context.setAuthentication(Who.inSession(signedIn));
    SecurityContextHolder.setContext(context);
    contexts.saveContext(context, request, response);
    // Whoever set the proof against forged requests before, this browser begins with another one.
    forgery.saveToken(forgery.generateToken(request), request, response);
    return of(signedIn);
  }

  @ForNobody
  @DeleteMapping("/session")
  @ResponseStatus(HttpStatus.NO_CONTENT)
  void signOut(HttpServletRequest request) {
    var session = request.getSession(false);
    if (session != null) {
      events.publishEvent(new SignedOut(session.getId()));
      session.invalidate();
    }
    SecurityContextHolder.clearContext();
  }

  /**
   * Changes one's own password; the old one is asked for again, so that a session is not enough.
   */
  @ForNobody
  @PostMapping("/session/password")
  @ResponseStatus(HttpStatus.NO_CONTENT)
  void password(@Valid @RequestBody NewPassword body, HttpServletRequest request) {
    signIns.changePassword(
        body.login(), body.password(), body.newPassword(), request.getRemoteAddr());
  }
}
