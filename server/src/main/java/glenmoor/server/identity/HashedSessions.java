package glenmoor.server.identity;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.security.SecureRandom;
import java.util.Base64;
import java.util.List;
import org.apache.commons.codec.digest.DigestUtils;
import org.jspecify.annotations.Nullable;
import org.springframework.session.SessionIdGenerator;
import org.springframework.session.web.http.CookieSerializer;
import org.springframework.session.web.http.HttpSessionIdResolver;

/**
 * Sessions are kept under the hash of what the browser brings, so that nobody who reads the
 * database can go on with one.
 */
public final class HashedSessions implements SessionIdGenerator, HttpSessionIdResolver {
  private static final int SECRET_BYTES = 32;

  private record Fresh(String secret, String id) {}

  /** The one that was made by the request at hand, until its cookie is written. */
  private static final ThreadLocal<@Nullable Fresh> FRESH = new ThreadLocal<>();

  private final SecureRandom random = new SecureRandom();
  private final CookieSerializer cookies;

  public HashedSessions(CookieSerializer cookies) {
    this.cookies = cookies;
  }

  @Override
  public String generate() {
    var bytes = new byte[SECRET_BYTES];
    random.nextBytes(bytes);
    var secret = Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
    var fresh = new Fresh(secret, hash(secret));
    FRESH.set(fresh);
    return fresh.id();
  }

  @Override
  public List<String> resolveSessionIds(HttpServletRequest request) {
    return cookies.readCookieValues(request).stream().map(HashedSessions::hash).toList();
  }

  @Override
  public void setSessionId(HttpServletRequest request, HttpServletResponse response, String id) {
    var fresh = FRESH.get();
    FRESH.remove();
    if (fresh != null && fresh.id().equals(id)) {
      cookies.writeCookieValue(new CookieSerializer.CookieValue(request, response, fresh.secret()));
    } else if (!resolveSessionIds(request).contains(id)) {
      throw new IllegalStateException("A session was made by another request");
    }
    // Else it is the browser's own, which ended while a stream of events went on: nothing is new.
  }

  @Override
  public void expireSession(HttpServletRequest request, HttpServletResponse response) {
    cookies.writeCookieValue(new CookieSerializer.CookieValue(request, response, ""));
  }

  static String hash(String secret) {
    return DigestUtils.sha256Hex(secret);
  }
}
