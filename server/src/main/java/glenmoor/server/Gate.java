package glenmoor.server;

import glenmoor.core.authorization.Actor;
import glenmoor.engine.Authorization;
import glenmoor.engine.identity.Tokens;
import glenmoor.server.authorization.ForEverybody;
import glenmoor.server.authorization.ForNobody;
import glenmoor.server.authorization.Needs;
import glenmoor.server.identity.Who;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.util.Arrays;
import org.springframework.http.HttpStatus;
import org.springframework.web.method.HandlerMethod;
import org.springframework.web.server.ResponseStatusException;
import org.springframework.web.servlet.HandlerInterceptor;

/**
 * Asks who sent a request, and whether they may at all, before a byte of its body is read. What a
 * handler does not say who it is for, is for nobody.
 */
final class Gate implements HandlerInterceptor {
  private static final String ACTOR = Gate.class.getName() + ".actor";
  private static final String OWN = "glenmoor.";

  private final Who who;

  public Gate(Who who) {
    this.who = who;
  }

  @Override
  public boolean preHandle(
      HttpServletRequest request, HttpServletResponse response, Object handler) {
    if (!(handler instanceof HandlerMethod method)
        || !method.getBeanType().getName().startsWith(OWN)
        || method.hasMethodAnnotation(ForNobody.class)) {
      return true;
    }
    var signedIn =
        who.asks()
            .orElseThrow(
                () -> new ResponseStatusException(HttpStatus.UNAUTHORIZED, "Sign in first."));
    if (signedIn.mustChange()) {
      throw Tokens.mustChange();
    }
    var actor = signedIn.actor();
    var needs = method.getMethodAnnotation(Needs.class);
    if (needs != null) {
      if (Arrays.stream(needs.value()).noneMatch(actor::maySomewhere)) {
        Authorization.need(actor, needs.value()[0]);
      }
    } else if (!method.hasMethodAnnotation(ForEverybody.class)) {
      throw new IllegalStateException(method + " does not say who it is for");
    }
    request.setAttribute(ACTOR, actor);
    return true;
  }

  /** Who was let in with a request. */
  public static Actor actor(HttpServletRequest request) {
    if (request.getAttribute(ACTOR) instanceof Actor actor) {
      return actor;
    }
    throw new ResponseStatusException(HttpStatus.UNAUTHORIZED, "Sign in first.");
  }
}
