package glenmoor.server.identity;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.security.SecureRandom;
import java.util.Base64;
import java.util.HexFormat;
import java.util.List;
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
    if (fresh == null || !fresh.id().equals(id)) {
      throw new IllegalStateException("A session was made by another request");
    }
    cookies.writeCookieValue(new CookieSerializer.CookieValue(request, response, fresh.secret()));
  }

  @Override
  public void expireSession(HttpServletRequest request, HttpServletResponse response) {
    cookies.writeCookieValue(new CookieSerializer.CookieValue(request, response, ""));
  }

  static String hash(String secret) {
    try {
      var digest = MessageDigest.getInstance("SHA-256");
      return HexFormat.of().formatHex(digest.digest(secret.getBytes(StandardCharsets.UTF_8)));
    } catch (NoSuchAlgorithmException impossible) {
      throw new IllegalStateException(impossible);
    }
  }
}
