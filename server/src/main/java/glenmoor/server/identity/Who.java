package glenmoor.server.identity;

import glenmoor.core.authorization.Actor;
import glenmoor.engine.identity.SignIns;
import glenmoor.engine.identity.SignIns.SignedIn;
import glenmoor.engine.identity.Tokens;
import java.io.Serializable;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;
import org.springframework.security.authentication.UsernamePasswordAuthenticationToken;
import org.springframework.security.core.Authentication;
import org.springframework.security.core.authority.AuthorityUtils;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.security.oauth2.core.DefaultOAuth2AuthenticatedPrincipal;
import org.springframework.security.oauth2.core.OAuth2AuthenticatedPrincipal;
import org.springframework.security.oauth2.server.resource.authentication.BearerTokenAuthentication;

/** Who asks: by a session, which is good for one epoch of its sign-in, or by a token. */
public final class Who {
  private static final String ACTOR = "actor";

  private final SignIns signIns;
  private final Tokens tokens;
  private final Duration longest;

  /**
   * @param longest how long a session may last, however much it is used
   */
  public Who(SignIns signIns, Tokens tokens, Duration longest) {
    this.signIns = signIns;
    this.tokens = tokens;
    this.longest = longest;
  }

  /** What a session keeps besides the name. */
  private record Kept(int epoch, Instant since) implements Serializable {}

  /** Who sent the request at hand; empty for nobody, and for whom it is over meanwhile. */
  public Optional<SignedIn> asks() {
    return of(SecurityContextHolder.getContext().getAuthentication());
  }

  /** Whether what was found out about a request earlier still holds. */
  public boolean isStill(@Nullable Authentication found) {
    return found instanceof BearerTokenAuthentication token
        ? tokens.actor(token.getToken().getTokenValue()).isPresent()
        : of(found).isPresent();
  }

  private Optional<SignedIn> of(@Nullable Authentication found) {
    return switch (found) {
      case UsernamePasswordAuthenticationToken session
          when session.getDetails() instanceof Kept kept
              && Instant.now().isBefore(kept.since().plus(longest)) ->
          signIns.inSession(session.getName(), kept.epoch());
      case BearerTokenAuthentication token
          when token.getPrincipal() instanceof OAuth2AuthenticatedPrincipal principal
              && principal.getAttribute(ACTOR) instanceof Actor actor ->
          Optional.of(new SignedIn(actor, 0, false));
      case null, default -> Optional.empty();
    };
  }

  /** What a session keeps of somebody who signed in. */
  static Authentication inSession(SignedIn signedIn) {
    var session =
        UsernamePasswordAuthenticationToken.authenticated(
            signedIn.actor().login(), null, AuthorityUtils.NO_AUTHORITIES);
    session.setDetails(new Kept(signedIn.epoch(), Instant.now()));
    return session;
  }

  /** What a request by a token carries. */
  public static OAuth2AuthenticatedPrincipal byToken(Actor actor) {
    return new DefaultOAuth2AuthenticatedPrincipal(
        actor.login(), Map.of("sub", actor.login(), ACTOR, actor), AuthorityUtils.NO_AUTHORITIES);
  }
}
