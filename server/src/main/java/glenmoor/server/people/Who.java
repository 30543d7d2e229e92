package glenmoor.server.people;

import glenmoor.engine.people.Actor;
import glenmoor.engine.people.SignIns;
import java.util.Optional;
import org.springframework.security.authentication.AnonymousAuthenticationToken;
import org.springframework.security.authentication.UsernamePasswordAuthenticationToken;
import org.springframework.security.core.Authentication;
import org.springframework.security.core.authority.AuthorityUtils;
import org.springframework.security.core.context.SecurityContextHolder;

/** Who asks: by a session, which is good for one epoch of its sign-in, or by a token. */
public final class Who {
  private Who() {}

  /** The actor of the request at hand; empty for nobody, and for whom it is over meanwhile. */
  public static Optional<Actor> asks(SignIns signIns) {
    return switch (SecurityContextHolder.getContext().getAuthentication()) {
      case null -> Optional.empty();
      case AnonymousAuthenticationToken nobody -> Optional.empty();
      case UsernamePasswordAuthenticationToken session ->
          session.getDetails() instanceof Integer epoch
              ? signIns.inSession(session.getName(), epoch)
              : Optional.empty();
      case Authentication token -> signIns.named(token.getName());
    };
  }

  /** What a session keeps of somebody who signed in. */
  static Authentication inSession(Actor actor, int epoch) {
    var session =
        UsernamePasswordAuthenticationToken.authenticated(
            actor.login(), null, AuthorityUtils.NO_AUTHORITIES);
    session.setDetails(epoch);
    return session;
  }
}
