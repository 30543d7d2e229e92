package glenmoor.connect.applications;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import com.unboundid.scim2.common.utils.JsonUtils;
import java.io.IOException;
import java.net.ConnectException;
import java.net.Proxy;
import java.net.ProxySelector;
import java.net.SocketTimeoutException;
import java.net.URI;
import java.net.URLEncoder;
import java.net.UnknownHostException;
import java.nio.charset.StandardCharsets;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import javax.net.ssl.SSLException;
import org.apache.hc.client5.http.classic.methods.HttpUriRequestBase;
import org.apache.hc.client5.http.config.ConnectionConfig;
import org.apache.hc.client5.http.config.RequestConfig;
import org.apache.hc.client5.http.impl.classic.CloseableHttpClient;
import org.apache.hc.client5.http.impl.classic.HttpClients;
import org.apache.hc.client5.http.impl.io.PoolingHttpClientConnectionManager;
import org.apache.hc.client5.http.impl.io.PoolingHttpClientConnectionManagerBuilder;
import org.apache.hc.core5.http.ClassicHttpResponse;
import org.apache.hc.core5.http.ContentType;
import org.apache.hc.core5.http.HttpEntity;
import org.apache.hc.core5.http.HttpHeaders;
import org.apache.hc.core5.http.Method;
import org.apache.hc.core5.http.NoHttpResponseException;
import org.apache.hc.core5.http.io.entity.ByteArrayEntity;
import org.apache.hc.core5.io.CloseMode;
import org.apache.hc.core5.util.TimeValue;
import org.apache.hc.core5.util.Timeout;
import org.jspecify.annotations.Nullable;

/**
 * Sends SCIM requests (RFC 7644), and believes only SCIM answers: media type, {@code schemas} and
 * shape are checked before an answer counts. A sign-in page with status 200 is no answer, and a 404
 * counts as "not there" only when the application says so in SCIM's own words (section 3.12).
 */
final class ScimHttp {
  static final String USER = "urn:ietf:params:scim:schemas:core:2.0:User";
  static final String GROUP = "urn:ietf:params:scim:schemas:core:2.0:Group";
  static final String LIST = "urn:ietf:params:scim:api:messages:2.0:ListResponse";
  private static final String ERROR = "urn:ietf:params:scim:api:messages:2.0:Error";
  private static final Duration CONNECT = Duration.ofSeconds(4);

  /** Over the whole exchange: an answer whose body never ends is no answer either. */
  private static final Duration WHOLE = Duration.ofSeconds(10);

  /** A connection that was not used for so long is looked at before it is used again. */
  private static final Duration LOOKED_AT_AFTER = Duration.ofSeconds(1);

  private static final Duration IDLE = Duration.ofSeconds(30);
  private static final int MOST_CONNECTIONS = 1_000;
  private static final int LARGEST_ANSWER = 32 << 20;
  private static final RequestConfig PATIENCE =
      RequestConfig.custom().setConnectionRequestTimeout(Timeout.of(WHOLE)).build();
  private static final ContentType SCIM_JSON = ContentType.create("application/scim+json");
  private static final String OVERDUE = "No whole answer from %s within %d s";
  private static final int FIRST_WORDS = 80;
  private static final int LONGEST_DETAIL = 400;

  /** The application did not give what was asked for. */
  static final class Failed extends Exception {
    private static final long serialVersionUID = 1;

    /** The status of a failure that is no SCIM answer. */
    static final int NO_SCIM = -1;

    /** The status where nothing answered at all. */
    static final int AWAY = 0;

    private final int status;
    private final @Nullable Duration after;

    Failed(int status, String sentence, @Nullable Duration after) {
      super(sentence);
      this.status = status;
      this.after = after;
    }

    /** The HTTP status of a SCIM error, {@link #AWAY} or {@link #NO_SCIM}. */
    int status() {
      return status;
    }

    Optional<Duration> after() {
      return Optional.ofNullable(after);
    }
  }

  /** A resource and its version, empty where the application offers none. */
  record Answer(ObjectNode body, String etag) {}

  /** What came back, whatever it is; a header that is not there is empty. */
  private record Response(int status, String type, String etag, String retryAfter, byte[] body) {
    static Response of(ClassicHttpResponse response) throws IOException {
      return new Response(
          response.getCode(),
          header(response, HttpHeaders.CONTENT_TYPE),
          header(response, HttpHeaders.ETAG),
          header(response, HttpHeaders.RETRY_AFTER),
          body(response.getEntity()));
    }

    private static String header(ClassicHttpResponse response, String name) {
      var header = response.getFirstHeader(name);
      return header == null || header.getValue() == null ? "" : header.getValue();
    }

    private static byte[] body(@Nullable HttpEntity entity) throws IOException {
      if (entity == null) {
        return new byte[0];
      }
      // One byte more than it says: that is how its end is seen.
      var bytes = Math.min(entity.getContentLength(), LARGEST_ANSWER) + 1;
      try (var content = entity.getContent()) {
        var body = content.readNBytes(bytes > 0 ? (int) bytes : LARGEST_ANSWER + 1);
        if (body.length > LARGEST_ANSWER) {
          throw new IOException("an answer of more than %d bytes".formatted(LARGEST_ANSWER));
        }
        return body;
      }
    }
  }

  private final PoolingHttpClientConnectionManager connections = connections();
  private final CloseableHttpClient http;
  private final Deadlines deadlines;
  private final String url;
  private final URI base;
  private final String token;

  ScimHttp(String url, String token) {
    this.url = url.endsWith("/") ? url.substring(0, url.length() - 1) : url;
    this.token = token;
    base = URI.create(this.url);
    http = client(connections, base);
    deadlines = new Deadlines(WHOLE, () -> connections.closeIdle(TimeValue.of(IDLE)));
  }

  private static PoolingHttpClientConnectionManager connections() {
    return PoolingHttpClientConnectionManagerBuilder.create()
        // Certificates are trusted, and shown, as Java's own settings say.
        .useSystemProperties()
        .setMaxConnTotal(MOST_CONNECTIONS)
        .setMaxConnPerRoute(MOST_CONNECTIONS)
        .setDefaultConnectionConfig(
            ConnectionConfig.custom()
                .setConnectTimeout(Timeout.of(CONNECT))
                .setValidateAfterInactivity(TimeValue.of(LOOKED_AT_AFTER))
                .build())
        .build();
  }

  /**
   * One that waits for an answer on the thread that asked, which costs less than handing it from
   * thread to thread, and that does nothing by itself: no redirects, no cookies, no compression.
   * How many go side by side is for others to say.
   */
  private static CloseableHttpClient client(
      PoolingHttpClientConnectionManager connections, URI base) {
    var proxies = ProxySelector.getDefault();
    return proxies == null || proxies.select(base).equals(List.of(Proxy.NO_PROXY))
        ? HttpClients.createMinimal(connections)
        : HttpClients.custom()
            .setConnectionManager(connections)
            .setProxySelector(proxies)
            .disableAutomaticRetries()
            .disableRedirectHandling()
            .disableCookieManagement()
            .disableContentCompression()
            .disableAuthCaching()
            .build();
  }

  /** Gets something of a schema; anything else is no answer. */
  Answer get(String path, String schema) throws Failed {
    return expected(send(request(Method.GET, path)), schema);
  }

  Answer post(String path, ObjectNode body, String schema) throws Failed {
    return expected(send(request(Method.POST, path, body.toString())), schema);
  }

  /** Changes a resource; with a version, only if it is still that one. */
  void patch(String path, String body, String etag) throws Failed {
    conditional(request(Method.PATCH, path, body), etag);
  }

  /** Puts a whole resource in the place of what is there. */
  void put(String path, ObjectNode body, String etag) throws Failed {
    conditional(request(Method.PUT, path, body.toString()), etag);
  }

  private void conditional(HttpUriRequestBase request, String etag) throws Failed {
    if (!etag.isEmpty()) {
      request.setHeader(HttpHeaders.IF_MATCH, etag);
    }
    var response = send(request);
    if (!text(response).isBlank()) {
      scim(response);
    }
  }

  void delete(String path) throws Failed {
    send(request(Method.DELETE, path));
  }

  static String encoded(String text) {
    return URLEncoder.encode(text, StandardCharsets.UTF_8).replace("+", "%20");
  }

  private HttpUriRequestBase request(Method method, String path) {
    var request = new HttpUriRequestBase(method.name(), base);
    request.setPath(base.getRawPath() + path);
    request.setConfig(PATIENCE);
    request.setHeader(HttpHeaders.USER_AGENT, "Glenmoor");
    request.setHeader(HttpHeaders.AUTHORIZATION, "Bearer " + token);
    request.setHeader(HttpHeaders.ACCEPT, "application/scim+json, application/json");
    return request;
  }

  private HttpUriRequestBase request(Method method, String path, String body) {
    var request = request(method, path);
    request.setEntity(new ByteArrayEntity(body.getBytes(StandardCharsets.UTF_8), SCIM_JSON));
    return request;
  }

  private Response send(HttpUriRequestBase request) throws Failed {
    var response = exchanged(request);
    var status = response.status();
    if (status >= 200 && status < 300) {
      return response;
    }
    if (status == 401 || status == 403 || status == 429 || status >= 500) {
      throw new Failed(status, sentence(response), retryAfter(response));
    }
    if (status < 400 || !isError(response)) {
      throw noScim(response);
    }
    throw new Failed(status, sentence(response), retryAfter(response));
  }

  private Response exchanged(HttpUriRequestBase request) throws Failed {
    try (var watched = deadlines.watch(request)) {
      try {
        return answered(request);
      } catch (IOException failed) {
        throw away(watched.isOver() ? OVERDUE.formatted(url, WHOLE.toSeconds()) : why(failed));
      } catch (IllegalStateException closed) {
        // Its application was defined anew, or the service stops: it is sent another time.
        throw away("The way to %s was closed meanwhile".formatted(url));
      }
    }
  }

  private String why(IOException failed) {
    if (Thread.currentThread().isInterrupted()) {
      return "Stopped while waiting for " + url;
    }
    return switch (failed) {
      case ConnectException refused -> "Nothing answers at " + url;
      case UnknownHostException nowhere -> "Nothing answers at " + url;
      case SSLException unproven ->
          "No safe connection to %s: its certificate is not trusted here, or is for another name"
              .formatted(url);
      case SocketTimeoutException slow ->
          "No answer from %s within %d s".formatted(url, CONNECT.toSeconds());
      default -> "%s broke the connection off without a whole answer".formatted(url);
    };
  }

  private Response answered(HttpUriRequestBase request) throws IOException {
    try {
      return http.execute(request, Response::of);
    } catch (NoHttpResponseException closed) {
      // A kept connection may be closed at the other end just when it is used; reading is repeated.
      if (!Method.GET.isSame(request.getMethod())) {
        throw closed;
      }
      return http.execute(request, Response::of);
    }
  }

  private static Failed away(String sentence) {
    return new Failed(Failed.AWAY, sentence, null);
  }

  private Answer expected(Response response, String schema) throws Failed {
    var body = scim(response);
    if (!schema.isEmpty() && !hasSchema(body, schema)) {
      throw noScim(response);
    }
    return new Answer(body, response.etag());
  }

  private ObjectNode scim(Response response) throws Failed {
    var body = json(response);
    if (body == null) {
      throw noScim(response);
    }
    return body;
  }

  private static boolean isError(Response response) {
    var body = json(response);
    return body != null && hasSchema(body, ERROR);
  }

  private static boolean hasSchema(ObjectNode body, String schema) {
    for (var each : body.path("schemas")) {
      if (each.asText().equalsIgnoreCase(schema)) {
        return true;
      }
    }
    return false;
  }

  private static @Nullable ObjectNode json(Response response) {
    var type = response.type().toLowerCase(Locale.ROOT);
    if (!type.startsWith("application/scim+json") && !type.startsWith("application/json")) {
      return null;
    }
    try {
      return JsonUtils.getObjectReader().readTree(response.body()) instanceof ObjectNode object
          ? object
          : null;
    } catch (IOException noJson) {
      return null;
    }
  }

  private Failed noScim(Response response) {
    var words = text(response).strip().replaceAll("\\s+", " ").replaceAll("\\p{Cntrl}", "");
    var type = response.type().isEmpty() ? "no media type" : response.type();
    return new Failed(
        Failed.NO_SCIM,
        "%s answered with something that is not SCIM (status %d, %s): %s"
            .formatted(
                url,
                response.status(),
                cut(type, FIRST_WORDS),
                words.isEmpty() ? "nothing" : "“" + cut(words, FIRST_WORDS) + "”"),
        retryAfter(response));
  }

  /** The error's own words (RFC 7644, section 3.12), or the status. */
  private static String sentence(Response response) {
    var body = json(response);
    JsonNode detail = body == null ? null : body.get("detail");
    return detail == null || detail.asText().isBlank()
        ? "HTTP status " + response.status()
        : cut(detail.asText().replaceAll("\\p{Cntrl}", " "), LONGEST_DETAIL);
  }

  private static String text(Response response) {
    return new String(response.body(), StandardCharsets.UTF_8);
  }

  private static String cut(String text, int longest) {
    return text.length() <= longest ? text : text.substring(0, longest - 1) + "…";
  }

  /** RFC 9110, section 10.2.3: seconds or a date; how long is waited in the end has its bounds. */
  private static @Nullable Duration retryAfter(Response response) {
    var value = response.retryAfter().strip();
    if (value.matches("\\d{1,18}")) {
      return Duration.ofSeconds(Math.min(Long.parseLong(value), Duration.ofDays(1).toSeconds()));
    }
    try {
      var until = ZonedDateTime.parse(value, DateTimeFormatter.RFC_1123_DATE_TIME);
      var wait = Duration.between(ZonedDateTime.now(until.getZone()), until);
      return wait.isNegative() ? Duration.ZERO : wait;
    } catch (DateTimeException | ArithmeticException none) {
      return null;
    }
  }

  void close() {
    deadlines.close();
    http.close(CloseMode.IMMEDIATE);
  }
}
